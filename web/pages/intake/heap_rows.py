"""The lines of a heap as rows: each lure of a line as it would go in, with what its angler put right in it."""

import json
from collections import defaultdict, deque
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_whole
from tackle.base.strict import read_json
from tackle.base.units import System, write_depth, write_exact, write_weight_exact
from tackle.base.vocabulary import CATEGORIES
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.intake.heap import NOTHING, HeapReader
from tackle.intake.limits import MOST_COUNT
from tackle.intake.line import MOST_LINE, LineRead
from tackle.intake.sheet_rows import Draft, read_row
from tackle.intake.words import normal
from web.common.accounts.models import User
from web.domain.colours.selectors import get_palette
from web.domain.crate import selectors
from web.domain.crate.models import Tray
from web.domain.crate.services.entered import Learned, put_right_on

MOST_LINES = 200
MOST_CELL = 80  # characters of what is put right in one field
NONE = "none"  # the answer that it is none of those that are offered
MOST_PARTS = 40  # lures of one line: it has no room for more
PART = " ⟦"  # between a line and the number of the lure in it, where it is several
FIELDS = ("category", "card", "count", "size", "weight", "depth", "tray", "onto", "word", "name")
WRITTEN: dict[str, tuple[str, Callable[[float, System], str]]] = {
    "size": ("size_in", write_exact),
    "weight": ("weight_oz", write_weight_exact),
    "depth": ("depth_ft", write_depth),
}
_FIELD_OF = {"colour": "card", "size_in": "size", "weight_oz": "weight", "depth_ft": "depth"}


@dataclass(slots=True)
class EnteredRow:
    """One lure of a line as it would go in: `shown` is what its controls hold, `told` what the angler put right in
    them.

    `line_at`: which of the lines it is of; `key`: that line, and which lure of it. `there`: the like of it that lies in
    that tray already; `onto`: whether it is added to that. `asked`: the fields that are not sure; `wrong`: those that
    cannot be used, and why.
    """

    number: int
    line_at: int
    key: str
    guess: LineRead
    told: dict[str, str]
    tray: Tray | None
    there: selectors.Stock | None = None
    onto: bool = True
    wrong: dict[str, str] = field(default_factory=dict)
    shown: dict[str, str] = field(default_factory=dict)
    choices: tuple[Colour, ...] = ()

    @property
    def line(self) -> str:
        """What was typed, whole."""
        return self.key.partition(PART)[0]

    @property
    def asked(self) -> tuple[str, ...]:
        return tuple(_FIELD_OF.get(name, name) for name in self.guess.unsure)

    @property
    def ready(self) -> bool:
        return not self.asked and not self.wrong

    @property
    def is_nothing(self) -> bool:
        """Whether it is of a receipt's totals: nothing goes in."""
        return self.guess.thing == NOTHING

    @property
    def told_json(self) -> str:
        return json.dumps(self.told)

    @property
    def shown_json(self) -> str:
        return json.dumps(self.shown)

    @property
    def words(self) -> list[tuple[str, bool]]:
        """The words of what was typed of it, each with whether it says nothing that is kept."""
        dropped = set(self.guess.dropped)
        return [(word, word.lower().strip(".,;:()!?") in dropped) for word in self.guess.line.split()]

    @property
    def question(self) -> str:
        """What is asked, in words."""
        asked, guess = set(self.asked), self.guess
        if {"count", "size"} <= asked:
            return "Is the number how many, or how long?"
        if {"count", "depth"} <= asked:
            return "Is the number how many, or how deep it runs?"
        words = []
        if "category" in asked:
            words.append(f"Which category is “{guess.kind}”?" if guess.kind else "What is it?")
        if "card" in asked:
            words.append(f"Which colour is “{guess.colour}”? It is remembered." if guess.colour else "Which colour?")
        if "count" in asked:
            words.append("How many are there?")
        words += [f"Check the {name}." for name in ("size", "weight", "depth") if name in asked]
        return " ".join(words).replace("the size", "the length")


def make_rows(owner: User, post: Mapping[str, str], with_kept: bool = True) -> list[EnteredRow]:
    """The rows that the lines of a form make, what was put right in them kept; `with_kept`: what was before, too."""
    palette = get_palette(owner)
    put_right = _put_right(post, selectors.get_heap(owner).rows if with_kept else ())
    learned = learned_in(data for rows in put_right.values() for data in rows)
    remembered = {**selectors.printed_names(owner), **learned.names}
    reader = HeapReader(palette, owner.units, remembered, {**selectors.kind_words(owner), **learned.kinds})
    stock = selectors.list_stock(owner, palette)
    trays = list(selectors.list_trays_with_places(owner))
    homes, there = selectors.list_homes(stock, trays), _likes(stock)
    by_key = {str(tray.pk): tray for tray in trays}
    rows: list[EnteredRow] = []
    tray = by_key.get(post.get("tray", ""))
    for line_at, line in enumerate(list_lines(post)[:MOST_LINES]):
        text = line.strip()[:MOST_LINE]
        told = [_next(put_right, _key(text, part)) for part in range(MOST_PARTS)]
        chosen = {part: data["category"] for part, data in enumerate(told) if data.get("category") in CATEGORIES}
        for part, guess in enumerate(reader.read(text, chosen)[:MOST_PARTS]):
            if told[part].get("category") == NONE:
                guess, where = _as_thing(guess, told[part]), tray or (trays[0] if trays else None)
                rows.append(EnteredRow(len(rows), line_at, _key(text, part), guess, told[part], where))
                rows[-1].shown = {"category": NONE, "card": "", "count": str(guess.count)}
                rows[-1].shown |= {"tray": str(where.pk) if where else ""}
                continue
            row = EnteredRow(len(rows), line_at, _key(text, part), guess, told[part], tray)
            _put_in(row, palette, owner.units)
            reader.before = row.guess
            tray = row.tray = by_key.get(row.told.get("tray", ""), tray)
            row.tray = tray or homes.get(row.guess.category or "") or (trays[0] if trays else None)
            like = there.get(_likeness_key(row), []) if row.tray and row.guess.card else []
            same = next((one for one in like if _same_otherwise(row.guess, one)), None)
            row.there = same or next(iter(like), None)
            row.onto = row.told.get("onto", "yes" if same else "no") == "yes"
            row.choices = _colours(row.guess, palette)
            row.shown = _shown(row, owner.units)
            rows.append(row)
    return rows


def list_lines(post: Mapping[str, str]) -> list[str]:
    return [line for line in post.get("lines", "").splitlines() if line.strip()]


def read_told(data: object) -> dict[str, str]:
    """What was put right in one row, of the fields that it may be."""
    if not isinstance(data, dict):
        return {}
    return {str(name): str(value)[:MOST_CELL] for name, value in data.items() if name in FIELDS}


def learned_in(told: Iterable[Mapping[str, str]]) -> Learned:
    """What was chosen for words: their kind, or which colour a name is."""
    kinds, names = dict[str, str](), dict[tuple[str, str], str]()
    for data in told:
        if data.get("word") and data.get("category") in CATEGORIES:
            kinds[data["word"]] = data["category"]
        if data.get("name") and data.get("card", NONE) != NONE:
            category, _, name = data["name"].partition(":")
            names[category, normal(name)] = data["card"]
    return Learned(kinds, names)


def draft_of(row: EnteredRow) -> Draft:
    """A row that is ready, as what goes in."""
    guess = row.guess
    assert guess.category
    assert guess.card
    return Draft(
        category=guess.category, card=guess.card.id, name=guess.name[:80], condition=guess.condition,
        count=guess.count, size_in=guess.size_in, weight_oz=guess.weight_oz, depth_ft=guess.depth_ft,
        sound=guess.sound, price=guess.price, typed=row.line, note=guess.note[:300],
    )  # fmt: skip


def put_right_in(post: Mapping[str, str], number: int) -> dict[str, str]:
    """What the controls of one row hold that was not shown in them."""
    was, data = _table(post.get(f"was-{number}", "")), dict[str, str]()
    for name in FIELDS:
        value = post.get(f"{name}-{number}")
        if name == "onto" and "onto" in was:
            value = value or "no"
        if value is not None and value[:MOST_CELL] != was.get(name, ""):
            data[name] = value[:MOST_CELL]
    return data


def _next(put_right: Mapping[str, deque[dict[str, str]]], key: str) -> dict[str, str]:
    data = put_right.get(key)
    return data.popleft() if data else {}


def _key(line: str, part: int) -> str:
    return f"{line}{PART}{part}" if part else line


def _as_thing(guess: LineRead, data: Mapping[str, str]) -> LineRead:
    """What its angler says is no kind of lure: it goes in as a thing, in its own words."""
    count = read_whole(data.get("count", ""), 1, MOST_COUNT) or guess.count
    return replace(guess, thing=guess.line[:80], count=count, category=None, card=None, unsure=(), carried=())


def _put_right(
    post: Mapping[str, str], kept: Iterable[tuple[str, dict[str, str]]]
) -> defaultdict[str, deque[dict[str, str]]]:
    """What the angler put right, by the line that it was put right in, in their order: as it is kept, and what the page
    has beyond that."""
    before = defaultdict[str, deque[dict[str, str]]](deque)
    for line, data in kept:
        before[line].append(data)
    found: defaultdict[str, deque[dict[str, str]]] = defaultdict(deque)
    for number in range(MOST_LINES * MOST_PARTS):
        if (text := post.get(f"line-{number}")) is None:
            break
        held = before[text].popleft() if before[text] else {}
        found[text].append(put_right_on(held, _table(post.get(f"told-{number}", "")) | put_right_in(post, number)))
    for text, rest in before.items():
        found[text].extend(rest)
    return found


def _table(text: str) -> dict[str, str]:
    try:
        return read_told(read_json(text, "row"))
    except InvalidInput:
        return {}


def _put_in(row: EnteredRow, palette: Palette, units: System) -> None:
    """Writes what was put right into the row's guess; what cannot be used is said, and asked again."""
    values: dict[str, Any] = {}
    if card := palette.by_id.get(row.told.get("card", "")):
        if row.guess.category in card.sold_in:
            values["card"] = card
        else:
            row.told.pop("card")
    names = [name for name in ("count", *WRITTEN) if name in row.told]
    draft = read_row([row.told[name] for name in names], names, palette, units)
    row.wrong = {name: draft.wrong[name] for name in names if name in draft.wrong}
    for name in names:
        attribute = WRITTEN[name][0] if name in WRITTEN else name
        if name not in row.wrong and (name != "count" or row.told[name].strip()):
            values[attribute] = getattr(draft, attribute)
    if row.told.get("card") == NONE and "colour" not in row.guess.unsure:
        row.guess = replace(row.guess, unsure=(*row.guess.unsure, "colour"))
    sure = {"card": "colour"}
    settled = {sure.get(name, name) for name in values} | ({"category"} if "category" in row.told else set())
    left = tuple(name for name in row.guess.unsure if name not in settled)
    row.guess = replace(row.guess, **values, unsure=left)


def _colours(guess: LineRead, palette: Palette) -> tuple[Colour, ...]:
    """The cards to choose from: those that may be meant first, then all others of the category."""
    if guess.category is None:
        return ()
    sold = palette.sold_in(guess.category)
    first = [card for card in guess.offers if card in sold]
    return tuple(dict.fromkeys((*first, *sold)))


def _shown(row: EnteredRow, units: System) -> dict[str, str]:
    """What the row's controls hold: nothing where one must ask."""
    guess, asked = row.guess, row.asked
    held = {
        "category": "" if "category" in asked else guess.category or "",
        "card": "" if "card" in asked or not guess.card else guess.card.id,
        "count": "" if "count" in asked else str(guess.count),
        "tray": str(row.tray.pk) if row.tray else "",
    }
    for name, (attribute, writer) in WRITTEN.items():
        value = getattr(guess, attribute)
        held[name] = "" if value is None or name in asked else writer(value, units)
    if row.there:
        held["onto"] = "yes" if row.onto else "no"
    return held | {name: row.told[name] for name in row.wrong}


def _likes(stock: Iterable[selectors.Stock]) -> dict[tuple[object, ...], list[selectors.Stock]]:
    """The stacks there are, by their tray and what they are."""
    found = defaultdict[tuple[object, ...], list[selectors.Stock]](list)
    for one in stock:
        of = one.lure
        key = (one.letter, of.category, of.card.id, of.size_in, of.weight_oz, of.depth_ft, of.sound)
        found[key].append(one)
    return found


def _same_otherwise(guess: LineRead, there: selectors.Stock) -> bool:
    """Whether a lure of the same form is the same in what else is told of it, so that the two make one stack: the same
    condition, and the same kind's word and name."""
    called = normal(guess.name[:80]), normal(there.lure.name)
    one_name = called[0] == called[1] or (not all(called) and not guess.stands_for)
    return guess.condition == there.lure.condition and one_name


def _likeness_key(row: EnteredRow) -> tuple[object, ...]:
    guess = row.guess
    assert row.tray
    assert guess.card
    form = (guess.size_in, guess.weight_oz, guess.depth_ft, guess.sound)
    return row.tray.letter, guess.category, guess.card.id, *form
