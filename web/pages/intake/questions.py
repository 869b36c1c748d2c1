"""What a heap leaves open, as few questions: each once for all lines that it is about, with answers to press."""

import json
from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from tackle.base.units import System, write_exact
from web.common.ui.templatetags.wax import counted
from web.common.ui.words import label
from web.pages.intake.heap_rows import NONE, EnteredRow

MOST_ANSWERS = 5  # one for each of the keys 1 to 5
_OTHERWISE = {"card": "none of these", "category": "none of these: no lure"}


@dataclass(frozen=True, slots=True)
class Answer:
    """One answer: its words, and what it puts right in each of the question's rows; `other`: none is put right, the
    field itself is gone to."""

    words: str
    told: tuple[dict[str, str], ...] = ()
    other: bool = False

    @property
    def told_json(self) -> str:
        return json.dumps(self.told)


@dataclass(frozen=True, slots=True)
class HeapQuestion:
    """What is asked of some rows at once. `field`: of which field; `colour_of`: the category, where none of the colours
    offered is it and one of one's own is made."""

    words: str
    field: str
    rows: tuple[EnteredRow, ...]
    answers: tuple[Answer, ...]
    colour_of: str = ""

    @property
    def rows_json(self) -> str:
        return json.dumps([{"number": row.number, "line": row.key} for row in self.rows])

    @property
    def lines(self) -> str:
        return counted(len(self.rows), "line,lines")


def list_questions(rows: Sequence[EnteredRow], owned: Mapping[str, int], units: System) -> list[HeapQuestion]:
    """The questions that some rows leave, those of most lines first; of each row the first thing that is open. `owned`:
    how many of each category there are."""
    groups: dict[tuple[str, ...], list[EnteredRow]] = defaultdict(list)
    for row in rows:
        if row.asked and not row.wrong:
            groups[_group(row)].append(row)
    known = Counter(row.guess.category for row in rows if row.guess.category and "category" not in row.asked)
    often = list(
        dict.fromkeys([*(one for one, _ in known.most_common() if one), *sorted(owned, key=lambda one: -owned[one])])
    )
    found = [_question(key, group, often, units) for key, group in groups.items()]
    return sorted(found, key=lambda one: (-len(one.rows), one.rows[0].number))


def _group(row: EnteredRow) -> tuple[str, ...]:
    """What rows have in common that one answer is for."""
    asked, guess = row.asked, row.guess
    if "category" in asked:
        return "category", guess.unknown or guess.kind, *([] if guess.unknown or guess.kind else [row.key])
    if "card" in asked:
        return "card", guess.category or "", guess.colour, *([] if guess.colour else [row.key])
    for pair in ("size", "depth"):
        if {"count", pair} <= set(asked):
            return "number", pair, guess.category or ""
    return asked[0], row.key, str(row.number)


def _question(key: tuple[str, ...], rows: Sequence[EnteredRow], often: Sequence[str], units: System) -> HeapQuestion:
    first, mine = rows[0].guess, tuple(rows)
    match key[0]:
        case "category":
            fitting = [one for one in often if not first.card or one in first.card.sold_in]
            offered = list(first.categories) or fitting[: MOST_ANSWERS - 2]
            kinds = [
                Answer(label(one), tuple(_kind_told(row, one) for row in rows)) for one in offered[: MOST_ANSWERS - 1]
            ]
            if not first.categories:
                kinds.append(Answer(_OTHERWISE["category"], tuple({"category": NONE} for _ in rows)))
            words = f"Which kind is “{key[1]}”?" if first.categories else f"What is “{key[1]}”?"
            return HeapQuestion(words, "category", mine, (*kinds, Answer("something else", other=True)))
        case "card":
            cards = tuple(
                Answer(
                    card.name, tuple({"card": card.id, "name": f"{first.category}:{row.guess.colour}"} for row in rows)
                )
                for card in rows[0].choices[: MOST_ANSWERS - 1]
            )
            said = f"Which {label(first.category or '').lower()} colour is “{first.colour}”?"
            words = said if first.colour else f"Which colour has “{rows[0].guess.line}”?"
            return HeapQuestion(
                words, "card", mine, (*cards, Answer("none of these", other=True)), first.category or ""
            )
        case "number":
            how = {"size": "how long", "depth": "how deep it runs"}[key[1]]
            many = tuple({"count": str(_number(row)), key[1]: ""} for row in rows)
            long = tuple({"count": "1", key[1]: _measured(row, key[1], units)} for row in rows)
            words = f"{_example(rows)}: is the number how many, or {how}?"
            return HeapQuestion(words, "count", mine, (Answer("how many", many), Answer(how, long)))
        case "count":
            numbers = [Answer(str(number), ({"count": str(number)},)) for number in range(1, MOST_ANSWERS)]
            words = f"How many are there of “{rows[0].guess.line}”?"
            return HeapQuestion(words, "count", mine, (*numbers, Answer("more", other=True)))
        case _:
            leave = Answer("leave it out", ({key[0]: ""},))
            words = f"“{rows[0].guess.line}”: which {'length' if key[0] == 'size' else key[0]}?"
            return HeapQuestion(words, key[0], mine, (leave, Answer("type it", other=True)))


def _kind_told(row: EnteredRow, category: str) -> dict[str, str]:
    word = row.guess.unknown or row.guess.kind
    return {"category": category, **({"word": word} if word else {})}


def _number(row: EnteredRow) -> int:
    """The number that may be how many."""
    guess = row.guess
    return guess.count if guess.count > 1 else max(round(guess.size_in or guess.depth_ft or 1), 1)


def _measured(row: EnteredRow, name: str, units: System) -> str:
    guess = row.guess
    if name == "size":
        return (
            write_exact(guess.size_in, units)
            if guess.size_in
            else f"{_number(row)} {'cm' if units == 'metric' else 'in'}"
        )
    return f"{guess.depth_ft or _number(row):g} ft"


def _example(rows: Iterable[EnteredRow]) -> str:
    return ", ".join(f"“{row.guess.line}”" for row in list(rows)[:2])
