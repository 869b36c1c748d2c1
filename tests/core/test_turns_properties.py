"""What to throw now, over a thousand mornings at random: the guide's sentences, each as something that always holds."""

import random
from datetime import datetime, timedelta

from tackle.colours.family import family
from tackle.colours.palette import house_palette
from tackle.colours.role import find_role
from tackle.commands.turns import turns
from tackle.situations.clarity import BANDS, HOUSE_LADDER

PALETTE = house_palette()
KINDS = ("jerkbait", "swimbait", "shallow-crankbait", "worm", "spinnerbait", "popper")
AT = datetime(2026, 6, 2, 10, 0)
LIGHTS = ("bright", "broken", "overcast", "low")


def a_morning(scatter):
    """A tray of one kind, and turns of some parts one after another until ten."""
    category = scatter.choice(KINDS)
    sold = PALETTE.sold_in(category)
    cards = scatter.sample(sold, min(scatter.randint(2, 8), len(sold)))
    now = {"visibility_in": scatter.choice((10, 20, 28, 40, 80)), "light": scatter.choice(LIGHTS), "season": "summer"}
    begins, fished = AT - timedelta(minutes=scatter.randint(20, 150)), []
    while begins < AT and scatter.random() < 0.9:
        card, at = scatter.choice(cards), begins
        for _ in range(scatter.choice((1, 1, 2))):
            minutes = scatter.choice((3, 6, 9))
            ends = at + timedelta(minutes=minutes)
            came = scatter.choice(("", "", "whole", "outside", "lost", "missed", "follow")) if ends <= AT else ""
            light = scatter.choice((now["light"], now["light"], *LIGHTS))
            fished.append({
                "at": f"{begins:%Y-%m-%dT%H:%M}", "minutes": minutes, "category": category, "colour": card.id,
                "light": light, "visibility_in": scatter.choice((now["visibility_in"], 10, 80)),
                "bites": [{"at": f"{ends:%Y-%m-%dT%H:%M}", "how": came}] if came else [],
            })  # fmt: skip
            at = ends
        begins = at
    return category, cards, now, fished


def whole_turns(fished):
    """The parts of each turn, with when each begins."""
    found = {}
    for part in fished:
        turn = found.setdefault((part["at"], part["colour"]), [])
        begins = turn[-1][1] if turn else datetime.fromisoformat(part["at"])
        turn.append((begins, begins + timedelta(minutes=part["minutes"]), part))
    return [parts for parts in found.values() if parts[0][0] <= AT]


def band(inches):
    return BANDS.index(HOUSE_LADDER.band_at(inches))


def counts(parts, now):
    recent = AT - timedelta(minutes=20)
    return any(
        begins <= AT and (ends > recent
                          or (part["light"] == now["light"]
                              and abs(band(part["visibility_in"]) - band(now["visibility_in"])) <= 1))
        for begins, ends, part in parts
    )  # fmt: skip


def test_a_thousand_mornings_hold_what_the_guide_says():
    scatter, done = random.Random(5), []
    for _ in range(1_000):
        category, cards, now, fished = a_morning(scatter)
        told = turns({
            "categories": [category], "at": f"{AT:%Y-%m-%dT%H:%M}", "now": now, "turns": fished,
            "tray": [{"category": category, "colour": card.id, "count": 3} for card in cards],
        })  # fmt: skip
        case = told["do"], told["colour"], now, fished
        done.append(told["do"])
        here = [parts for parts in whole_turns(fished) if counts(parts, now)]
        on = PALETTE.by_id[max(here, key=lambda parts: parts[0][0])[0][2]["colour"]] if here else None
        bites = [(datetime.fromisoformat(bite["at"]), bite["how"], part["colour"], part["light"])
                 for parts in here for _, _, part in parts for bite in part["bites"]]  # fmt: skip
        blank = {
            family(PALETTE.by_id[parts[0][2]["colour"]], category)
            for parts in here
            if not any(part["bites"] for *_, part in parts) and sum(part["minutes"] for *_, part in parts) >= 5
        }
        thrown = {family(PALETTE.by_id[parts[0][2]["colour"]], category) for parts in here}
        accepted = [PALETTE.by_id[one["colour"]] for one in told["order"] if one["from"]] or cards
        new = [card for card in accepted if family(card, category) not in thrown]
        wanted = PALETTE.by_id[told["colour"]] if told["colour"] else None
        recent = [bite for bite in bites if bite[0] >= AT - timedelta(minutes=20)]
        # No turn, no word but the first.
        assert (told["do"] == "begin") == (not here), case
        # While it bites it is stayed with.
        if told["do"] == "stay":
            assert wanted is on, case
            assert any(colour == on.id for _, _, colour, _ in recent), case
        # Seen too well in the sun: the see-through one. Else of the same role, and new here.
        if told["do"] == "near":
            shy = any(how in ("missed", "follow") and light in ("bright", "broken") for _, how, _, light in recent)
            through = wanted.opacity.value == "translucent" and now["light"] in ("bright", "broken") and shy
            assert through or (wanted in new and find_role(wanted) is find_role(on)), case
        # Another role only when no finish of this one is left, and another place when nothing is.
        if told["do"] == "turn" and new:
            assert wanted in new, case
            assert not any(find_role(card) is find_role(on) for card in new), case
        if told["do"] == "place":
            assert all(family(card, category) in blank for card in accepted), case
        # What just bit is never left for another place.
        if any(how == "whole" for _, how, colour, _ in recent if on is not None and colour == on.id):
            assert told["do"] != "place", case
    assert {*done} >= {"begin", "stay", "near", "turn", "back", "place"}
