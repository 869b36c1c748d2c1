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
_VERBS = {Grade.GO_TO: "says it is a first choice", Grade.WORKS: "says it will do", Grade.AVOID: "says to avoid it"}


def said(heard: DrillSaid) -> str:
    """What one school says of a colour, in a few words."""
    if heard.first:
        return "would begin with it"
    return _VERBS[heard.grade] if heard.grade else "has no advice on it"


def verdict(offer: DrillChoice, question: Question) -> str:
    """What picking a colour comes to, in a sentence."""
    first = [one.book.name for one in offer.heard if one.first]
    if offer.pick is Pick.FIRST:
        return f"Right: {listed(first)} would begin with it."
    if offer.pick is Pick.WRONG:
        return f"Not here. {_others(question)}"
    if question.by and first:
        return f"{listed(first)} would begin with it; {question.by.name} would not."
    taken = [one.book.name for one in offer.heard if one.grade in (Grade.GO_TO, Grade.WORKS)]
    return f"It will do, {'says' if len(taken) == 1 else 'say'} {listed(taken)}. {_others(question)}"


def _others(question: Question) -> str:
    best = listed([offer.card.name for offer in question.best])
    return f"The first choice is {best}."


def asks(by: Rulebook | None) -> str:
    """Whose thinking is asked for."""
    return f"What would {by.name} begin with?" if by else "Which would you begin with?"


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
