"""The numbers in a typed line: what has a unit, what is a count, what stands bare. The grammar of it is small:

line   = { amount | word | mark }
amount = number [ "-" ] unit | number count-word | "x" number | number "x" | "qty" number | "(" whole ")"
       | number ( "-" | "to" ) number [ unit ]                                  a range, which is no amount
number = whole | decimal | fraction | whole ( " " | "-" ) fraction | number-word
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Final, Literal

from tackle.base.units import CM_PER_IN, G_PER_OZ, M_PER_FT

__all__ = ["Amounts", "Bare", "read_amounts"]

Field = Literal["count", "size_in", "weight_oz", "depth_ft"]

_UNITS: Final[dict[str, tuple[Field, float]]] = {
    **dict.fromkeys(("in", "inch", "inches", "ins", '"'), ("size_in", 1.0)),
    "cm": ("size_in", 1 / CM_PER_IN),
    "mm": ("size_in", 0.1 / CM_PER_IN),
    **dict.fromkeys(("oz", "ozs", "ounce", "ounces"), ("weight_oz", 1.0)),
    **dict.fromkeys(("g", "gr", "gm", "gms", "grs", "gram", "grams"), ("weight_oz", 1 / G_PER_OZ)),
    **dict.fromkeys(("ft", "feet", "foot", "fts", "'"), ("depth_ft", 1.0)),
    **dict.fromkeys(("m", "meter", "meters", "metre", "metres"), ("depth_ft", 1 / M_PER_FT)),
}
_COUNTERS: Final = frozenset({
    "pc", "pcs", "piece", "pieces", "pk", "pks", "pkg", "pkgs", "pack", "packs", "package", "packages", "bag",
    "bags", "ea", "each", "ct", "count", "total",
})  # fmt: skip
_HOLDERS: Final = frozenset({
    "pack", "packs", "bag", "bags", "box", "boxes", "package", "packages", "pk", "pkg", "pkgs",
})  # fmt: skip
_BEFORE: Final = frozenset(["qty", "quantity", "count", "pcs", "amt", "number"])
_NUMBER_WORDS: Final = {
    "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10,
    "eleven": 11, "twelve": 12,
}  # fmt: skip
_PAIRS: Final = {"pair": 2, "pairs": 2, "couple": 2}
_VAGUE: Final = frozenset(["few", "several", "some", "handful", "bunch", "lots", "many"])
_NOT_COUNTED: Final = frozenset({
    "faced", "face", "tone", "toned", "tail", "tailed", "knocker", "knock", "piece", "sided",
})  # fmt: skip
_PARTS: Final = {"half": 2, "quarter": 4, "quarters": 4, "eighth": 8, "eighths": 8, "sixteenth": 16, "sixteenths": 16}
_PLACES: Final = frozenset(["a", "an", "the", "my", "box", "bag", "tray", "pack", "package", "drawer", "crate"])

_LEX: Final = re.compile(
    r"(?P<part>\d{1,3}/\d{1,3})(?:ths?|rds?)?(?![\d/])"
    r"|(?P<decimal>\d{0,5}[.,]\d{1,4}(?![\d]))"
    r"|(?P<whole>\d{1,18})(?:ths?\b)?"
    r"|(?P<word>[^\W\d_]+)"
    r"|(?P<mark>[^\s\w]|_)"
)
_SIGNS: Final = str.maketrans({
    "″": '"', "“": '"', "”": '"', "„": '"', "′": "'", "’": "'", "‘": "'", "´": "'", "×": " x ", "–": "-", "—": "-",
    "−": "-", "⁄": "/", "∕": "/", "\u00a0": " ",
})  # fmt: skip
_VULGAR: Final = {
    "½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8", "⅓": "1/3", "⅔": "2/3",
}  # fmt: skip


@dataclass(slots=True)
class _Token:
    kind: str
    text: str
    glued: bool  # to what stands before it
    value: float = 0.0


@dataclass(frozen=True, slots=True)
class Bare:
    """A number that says nothing of what it counts: a whole one, a decimal, a fraction, or a whole and a fraction.

    `whole` and `part` are the two halves of the last. `unit`: for such a one at the head of a line with a unit.
    """

    kind: Literal["whole", "decimal", "fraction", "mixed"]
    value: float
    leads: bool
    ends: bool
    own_cell: bool
    whole: int = 0
    part: float = 0.0
    unit: Field | None = None
    behind: int = 0  # so many words stand before it


@dataclass(slots=True)
class Amounts:
    """What a line's numbers say: each value under its field, what stands bare, the words left, what is not clear."""

    told: dict[str, float] = field(default_factory=dict)
    bare: list[Bare] = field(default_factory=list)
    words: list[str] = field(default_factory=list)
    unclear: set[str] = field(default_factory=set)

    def tell(self, name: Field, value: float) -> None:
        """Another value of a field: two that differ leave it unclear."""
        if name in self.told and abs(self.told[name] - value) > 1e-9:
            self.unclear.add(name)
        self.told.setdefault(name, value)


def read_amounts(text: str) -> Amounts:
    """The numbers and the words of a line, told apart."""
    return _Parser(list(_tokens(text))).parse()


def _tokens(text: str) -> Iterator[_Token]:
    for sign, written in _VULGAR.items():
        text = text.replace(sign, f" {written}")
    text = text.translate(_SIGNS).replace("''", '"').lower()
    end = -1
    for found in _LEX.finditer(text):
        token = _Token(str(found.lastgroup), found[str(found.lastgroup)], found.start() == end)
        end = found.end()
        if token.kind == "part":
            top, bottom = map(int, token.text.split("/"))
            if not bottom or top >= bottom * 4:
                token.kind, token.text = "mark", "?"  # 5/0 is the size of a hook
            else:
                token.value = top / bottom
        elif token.kind == "decimal":
            token.value = float(token.text.replace(",", "."))
        elif token.kind == "whole":
            token.value = float(token.text)
        yield token


class _Parser:
    def __init__(self, tokens: list[_Token]) -> None:
        self.tokens = tokens
        self.at = 0
        self.out = Amounts()

    def parse(self) -> Amounts:
        while self.at < len(self.tokens):
            self._step()
        return self.out

    def _step(self) -> None:
        token = self.tokens[self.at]
        if token.kind in ("part", "decimal", "whole"):
            self._number()
        elif token.kind == "word":
            self._word()
        elif token.text in "#$€£" and self._kind(1) != "":
            self.at += 2 if self._kind(1) in ("part", "decimal", "whole") else 1  # a model's number, a price
        elif token.text == "*" and self._kind(1) == "whole":
            self._count(self.tokens[self.at + 1].value, 2)
        elif token.text == "(" and self._kind(1) == "whole" and self._text(2) == ")":
            self._count(self.tokens[self.at + 1].value, 3)
        else:
            self.at += 1

    def _kind(self, ahead: int) -> str:
        place = self.at + ahead
        return self.tokens[place].kind if place < len(self.tokens) else ""

    def _text(self, ahead: int) -> str:
        place = self.at + ahead
        return self.tokens[place].text if 0 <= place < len(self.tokens) else ""

    def _glued(self, ahead: int) -> bool:
        place = self.at + ahead
        return place < len(self.tokens) and self.tokens[place].glued

    def _count(self, value: float, used: int) -> None:
        self.at += used
        while self._text(0) in _COUNTERS:
            self.at += 1
        if self._text(0) == "of" and self._kind(1) == "whole":
            value *= self.tokens[self.at + 1].value  # six bags of two
            self.at += 2
        elif self._text(0) == "of":
            self.at += 1
        self.out.tell("count", value)

    # --- words ------------------------------------------------------------------------------------------------

    def _word(self) -> None:
        token = self.tokens[self.at]
        word, after = token.text, self._text(1)
        if word in ("a", "an") and after in {*_PAIRS, "dozen", "half", "quarter"} | _VAGUE:
            self.at += 1
        elif word == "x" and self._kind(1) == "whole" and not self._glued(2):
            self._count(self.tokens[self.at + 1].value, 2)
        elif word in _BEFORE and self._number_ahead():
            self._count(self.tokens[self.at + self._number_ahead()].value, self._number_ahead() + 1)
        elif word in _PAIRS:
            self._count(_PAIRS[word], 1)
        elif word in _VAGUE and self.at == 0:
            self.out.unclear.add("count")
            self.at += 1
        elif word == "half" and after == "dozen":
            self._count(6, 2)
        elif word == "half" and after == "a" and self._text(2) == "dozen":
            self._count(6, 3)
        elif word == "dozen":
            self._count(12, 1)
        elif word in _PARTS and (word != "half" or after in _UNITS) and self._part_ahead(1.0, 0):
            pass
        elif (
            word in _NUMBER_WORDS and after not in _NOT_COUNTED and not (after == "-" and self._text(2) in _NOT_COUNTED)
        ):
            self._number_word()
        elif word in _HOLDERS and after == "of" and self._kind(2) == "whole":
            self._count(self.tokens[self.at + 2].value, 3)
        elif word in ("size", "sz", "no", "nr") and self._number_ahead():
            ahead = self._number_ahead()
            self.at += ahead
            if not self._unit(1):
                self.at += 1
                self.out.unclear.add("size_in")  # a maker's size is no length
        elif self._kind(1) == "whole" and self._glued(1):
            self.out.words.append(word)  # a model's number
            self.at += 2
        else:
            self.out.words.append(word)
            self.at += 1
            if self._text(0) == "'" and self._text(1) == "s":
                self.at += 2

    def _number_ahead(self) -> int:
        """How far ahead a whole number stands, past a colon or the like; 0 where none does."""
        ahead = 2 if self._text(1) in (":", "=", ".", "-") else 1
        return ahead if self._kind(ahead) == "whole" else 0

    def _number_word(self) -> None:
        value = _NUMBER_WORDS[self._text(0)]
        if self._text(1) == "dozen":
            self._count(value * 12, 2)
        elif self._text(1) in _PARTS and self._part_ahead(value, 1):
            pass
        elif self._text(1) in _UNITS and self._text(1) not in ("in", "m", "'"):
            name, scale = _UNITS[self._text(1)]
            self.out.tell(name, value * scale)
            self.at += 2
        else:
            self._count(value, 1)

    def _part_ahead(self, top: float, ahead: int) -> bool:
        """Half an ounce, three quarters, five eighths of an ounce: a weight."""
        bottom, used = _PARTS[self._text(ahead)], ahead + 1
        if self._text(used) in ("of", "an", "a", "-"):
            used += 1
        if _UNITS.get(self._text(used), ("weight_oz", 1.0))[0] != "weight_oz":
            return False
        self.out.tell("weight_oz", top / bottom)
        self.at += used + (self._text(used) in _UNITS)
        return True

    # --- numbers ----------------------------------------------------------------------------------------------

    def _number(self) -> None:
        first = self.tokens[self.at]
        leads = self.at == 0
        before = self._text(-1)
        own_cell = before in (",", ";", "|", "\t")
        if self._range():
            return
        whole, part, used = 0, 0.0, 1
        if first.kind == "whole" and first.value < 100:
            hyphen = self._text(1) == "-"
            if self._kind(1 + hyphen) == "part" and (not hyphen or (self._glued(1) and self._glued(2))):
                whole, part, used = int(first.value), self.tokens[self.at + 1 + hyphen].value, 2 + hyphen
                if part >= 1:
                    whole, part, used = 0, 0.0, 1
                leads = leads and not hyphen
        value = whole + part if part else first.value
        unit = self._unit(used)
        ahead = used + (1 if self._text(used) == "-" and unit else 0)
        if unit:
            name, scale = unit
            self.at += ahead + 1
            if self._text(0) == ".":
                self.at += 1
            if part and leads:
                bare = Bare("mixed", value * scale, True, False, own_cell, whole, part * scale, name)
                self.out.bare.append(bare)
            else:
                self.out.tell(name, value * scale)
            return
        following = self._text(used)
        if not part and first.kind == "whole":
            if following in ("x", "*") and not (following == "x" and self._kind(used + 1) == "whole"):
                self._count(value, used + 1)
                return
            if following == "dozen":
                self._count(value * 12, used + 1)
                return
            if following in _COUNTERS or (following == "-" and self._text(used + 1) in _COUNTERS):
                self._count(value, used + (following == "-") + 1)
                return
            if following == "of" and leads:
                self._count(value, used)
                return
        if following in _PARTS and following != "half" and first.kind == "whole":
            self.at += used - 1
            if self._part_ahead(value, 1):
                return
            self.at -= used - 1
        self.at += used
        kind = "mixed" if part else {"part": "fraction", "decimal": "decimal"}.get(first.kind, "whole")
        ends = all(token.kind == "mark" for token in self.tokens[self.at :]) or self._text(0) in (";", ",", "|")
        self.out.bare.append(Bare(kind, value, leads, ends, own_cell and ends, whole, part, behind=len(self.out.words)))  # type: ignore[arg-type]

    def _unit(self, used: int) -> tuple[Field, float] | None:
        """The unit that follows a number, if one does: "3/8 oz", "1/2-oz", "5 in", but not "3 in a box"."""
        ahead = used + (1 if self._text(used) == "-" and self._kind(used + 1) == "word" else 0)
        word = self._text(ahead)
        if word not in _UNITS or (word == "in" and self._text(ahead + 1) in _PLACES):
            return None
        if word == "'" and self._kind(ahead + 1) == "word" and self._glued(ahead + 1) and self._text(ahead + 1) == "s":
            return None
        return _UNITS[word]

    def _range(self) -> bool:
        """ "3/8-1/2 oz", "4 to 5 in", "10-12 ft": no single value, so the field is asked."""
        first, between = self.tokens[self.at], self._text(1)
        if between not in ("-", "to") or self._kind(2) not in ("part", "decimal", "whole"):
            return False
        second = self.tokens[self.at + 2]
        if first.kind == "whole" and second.kind == "part" and second.value < 1 and between == "-":
            return False  # 1-1/2
        unit = self._unit(3)
        if unit:
            self.out.unclear.add(unit[0])
        elif first.kind == "part" or second.kind == "part":
            self.out.unclear.add("weight_oz")
        else:
            self.out.unclear |= {"size_in", "count"}
        self.at += 4 if unit else 3
        if self._text(0) == ".":
            self.at += 1
        return True
