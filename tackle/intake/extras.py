"""What a typed line tells beside the lure itself: its price, the size of its hook, the strength of a line; and lines of
a receipt that are of nothing at all."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Final

__all__ = ["Extras", "is_of_nothing", "read_extras"]

_EACH: Final = r"(?:\s*(?:each|ea|apiece|per pack|a pack|pk)\b)?"
_AMOUNT: Final = r"\d{1,4}(?:[.,]\d{1,2})?"
_PRICES: Final = tuple(
    re.compile(pattern, re.I)
    for pattern in (
        rf"(?:@|\bat|\bfor)?\s*[$€£]\s*({_AMOUNT}){_EACH}",
        rf"(?:@|\bat|\bfor)?\s*(?<![\d./])({_AMOUNT})\s*(?:[$€£]|\b(?:usd|eur|euros?|dollars?|bucks?|quid)\b){_EACH}",
        rf"@\s*({_AMOUNT})(?![\d/]){_EACH}",
        # Two decimals that no length has, with no unit behind them: 3.99, 4.29, 6.95.
        rf"(?<![\d./,#])(\d{{1,3}}[.,](?:\d9|95))(?![\d/])(?!\s*-?(?:in|inch|inches|\"|″|”|cm|mm|m|ft|oz|g)\b){_EACH}",
    )
)
_SO_MANY_AT: Final = re.compile(r"(?<![\d./x])\b(\d{1,3})\s*@")
_CENTS: Final = re.compile(r"(?<![\d./])(\d{1,2})\s*(?:¢|c\b|cents?\b)", re.I)
_HOOK: Final = re.compile(
    r"(?<![\d/])(?:size\s*)?(?P<big>\d{1,2}/0)\b"
    r"|(?:#|\bsize\s*|\bno\.?\s*)(?P<small>\d{1,2})(?=\s*(?:short shank |round bend )?(?:treble|hook))",
    re.I,
)
_STRENGTH: Final = re.compile(r"(?<![\d/.])(\d{1,3}(?:\.\d)?)\s?-?(?:lbs?|pounds?)\b\.?(?:\s*test\b)?", re.I)
_LONG: Final = re.compile(r"\b\d+ ?-?(?:yards?|yds?)\b\.?", re.I)  # how much of a line there is
_MONEY: Final = re.compile(
    r"\W*(?:sub ?-?total|total|grand total|sales tax|tax|vat|incl\.? vat|visa|master ?card|debit|credit|card|cash"
    r"|change|balance|receipts?|thank you|invoice|order|shipping|discount|coupon|amount|tender(?:ed)?|tip"
    r"|you saved|rounding)\b"
    r"(?P<rest>.*)", re.I,
)  # fmt: skip
_OF_MONEY: Final = re.compile(
    r"(?:[\W\d]|\b(?:due|no|nr|number|card|paid|sale|items?|for|your|visit|incl|of|tax|total|usd|eur|end|given|date)\b)*",
    re.I,
)
_SHOP: Final = re.compile(
    r"\b(?:shop|store|outfitters|sporting goods|bait (?:and|&) tackle|tackle co|inc|llc|ltd)\b", re.I
)


@dataclass(frozen=True, slots=True)
class Extras:
    """`price`: of one, as it is written, in whatever money; `hook`: its size, such as 3/0; `line_lb`: the strength of a
    line, in pounds; `left`: the line without them."""

    left: str
    price: float | None = None
    hook: str = ""
    line_lb: float | None = None


def read_extras(line: str) -> Extras:
    """Takes out of a line what is no word of the lure's.

    >>> read_extras("squarebill red craw 4.29")
    Extras(left='squarebill red craw ', price=4.29, hook='', line_lb=None)
    """
    price, hook, line_lb = None, "", None
    line = _SO_MANY_AT.sub(r" x\1 @", line)
    for pattern in _PRICES:
        if found := pattern.search(line):
            price, line = float(found[1].replace(",", ".")), _without(line, found)
            break
    if price is None and (found := _CENTS.search(line)):
        price, line = int(found[1]) / 100, _without(line, found)
    if found := _HOOK.search(line):
        hook, line = found["big"] or found["small"], _without(line, found)
    if found := _STRENGTH.search(line):
        line_lb, line = float(found[1]), _without(line, found)
    return Extras(_LONG.sub(" ", line), price, hook, line_lb)


def is_of_nothing(line: str) -> bool:
    """Whether a line is a receipt's: totals, tax, how it was paid, the shop's name; no lure and no thing."""
    money = _MONEY.fullmatch(line)
    if money and _OF_MONEY.fullmatch(money["rest"]):
        return True
    return bool(_SHOP.search(line)) and not re.search(r"\d", line)


def _without(line: str, found: re.Match[str]) -> str:
    return f"{line[: found.start()]} {line[found.end() :]}".replace("  ", " ")
