"""What comes of a pick, what a school says of a colour, and how one's eye reads, in words."""

from collections.abc import Mapping
from dataclasses import dataclass

from tackle.base.units import System, write_length
from tackle.base.vocabulary import Grade, Stain
from tackle.schools.rulebook import Rulebook
from tackle.situations.situation import Situation
from tackle.teach.depth import Bias
from tackle.teach.drill import DrillChoice, DrillSaid, Pick, Question
from web.common.ui.words import label, listed

STAINS = {"none": "clear", "silt": "milky", "algae": "green", "tannic": "tea"}
_VERBS = {Grade.GO_TO: "has it as a first choice", Grade.WORKS: "says it will do", Grade.AVOID: "says to avoid it"}


def said(heard: DrillSaid) -> str:
    """What one school says of a colour, in a few words."""
    if heard.first:
        return "reaches for it first"
    return _VERBS[heard.grade] if heard.grade else "says nothing of it"


def verdict(offer: DrillChoice, question: Question) -> str:
    """What picking a colour comes to, in a sentence."""
    first = [one.book.name for one in offer.heard if one.first]
    if offer.pick is Pick.FIRST:
        return f"Right: {listed(first)} {_reach(first)} for it first."
    if offer.pick is Pick.WRONG:
        return f"Not here. {_others(question)}"
    if question.by and first:
        return f"{listed(first)} {_reach(first)} for it; {question.by.name} would rather have another."
    taken = [one.book.name for one in offer.heard if one.grade in (Grade.GO_TO, Grade.WORKS)]
    return f"It will do: {listed(taken)} {'takes' if len(taken) == 1 else 'take'} it. {_others(question)}"


def _reach(names: list[str]) -> str:
    return "reaches" if len(names) == 1 else "reach"


def _others(question: Question) -> str:
    best = listed([offer.card.name for offer in question.best])
    return f"{best} {'is' if len(question.best) == 1 else 'are'} first."


def asks(by: Rulebook | None) -> str:
    """Whose thinking is asked for."""
    return f"By {by.name}’s thinking: {by.question.lower()}" if by else "Which first?"


def day_told(situation: Situation, band: str, units: System) -> str:
    """A day in a line: the water, the sky, the wind, the food."""
    stain = "" if situation.stain is Stain.NONE else f", {STAINS.get(situation.stain, situation.stain)}"
    wind = f", {situation.wind}" if situation.wind and situation.wind not in ("calm", "ripple") else ""
    food = situation.forage[0]
    eaten = "nobody knows what they eat" if food == "unknown" else f"they eat {label(food).lower()}"
    season = f"{label(situation.season)}. " if situation.season else ""
    sight = write_length(round(situation.visibility_in), units)
    return f"{season}{label(band)} water, {sight}{stain}; {label(situation.light).lower()}{wind}; {eaten}."


@dataclass(frozen=True, slots=True)
class Eye:
    """How one reads one kind of water: "8 in too deep", and from how many readings."""

    stain: str
    words: str
    count: int


def eye(biases: Mapping[str, Bias], units: System) -> list[Eye]:
    """How one reads, for each kind of water in which it is more than chance."""
    found = []
    for stain, one in biases.items():
        length = write_length(max(abs(round(one.off_in)), 1), units)
        found.append(Eye(STAINS[stain], f"{length} too {'deep' if one.off_in > 0 else 'shallow'}", one.count))
    return found
