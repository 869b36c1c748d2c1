"""Words and drawings for templates."""

import calendar
import secrets
from collections.abc import Mapping
from functools import lru_cache
from typing import Any

from django import template
from django.template.defaulttags import CsrfTokenNode
from django.template.loader import render_to_string
from django.utils.html import format_html
from django.utils.safestring import SafeString, mark_safe

from tackle.base.units import System, write_depth, write_length, write_range, write_temperature, write_weight
from tackle.colours.colour import Colour
from web.common.ui.shapes import SHAPES
from web.common.ui.signs import sign
from web.common.ui.swatch import draw_swatch
from web.common.ui.words import clock_said, days_said, label, listed, region_said, sky, split_days, total_shown

register = template.Library()
MOST_REFS = 8


class _FormKeys(CsrfTokenNode):
    """Django's own token, and beside it the form's own key: see web.common.accounts.once."""

    def render(self, context: template.Context) -> SafeString:
        key = format_html('<input type="hidden" name="once" value="{}">', secrets.token_hex(12))
        return mark_safe(super().render(context) + key)  # noqa: S308 - both drawn here


@register.tag(name="csrf_token")
def form_keys(parser: template.base.Parser, token: template.base.Token) -> _FormKeys:
    return _FormKeys()


@register.simple_tag
@lru_cache(maxsize=2048)
def stick(card: Colour, size: str = "") -> SafeString:
    """The stick of a card, drawn once for all pages. Sizes: small, large, or as it comes."""
    return render_to_string("ui/stick.html", {"stick": draw_swatch(card), "size": size})


@register.simple_tag
def shape(category: str) -> SafeString:
    """The silhouette of a kind of lure, for where kinds meet."""
    drawn = '<svg class="kind-shape" viewBox="0 0 72 32" aria-hidden="true"><path d="{}"/></svg>'
    return format_html(drawn, SHAPES[category])


@register.simple_tag
def ghost(code: str, size: str = "") -> SafeString:
    """The outline of a stick that is missing."""
    return sign("ui/ghost.html", code=code, size=size)


register.filter("days", days_said)
register.filter(label)
register.filter(sky)
register.filter("region", region_said)


@register.filter
def get(table: dict[Any, Any], key: Any) -> Any:
    """The value of a key that is itself a variable."""
    return table.get(key)


@register.filter
def refs(called: dict[int, str], lures: Any) -> str:
    """What a lure, or some lures, are called by their places; of many, the first few."""
    places = [called.get(int(lure.ref), lure.ref) for lure in (lures if isinstance(lures, tuple | list) else [lures])]
    return ", ".join(places[:MOST_REFS]) + (f" and {len(places) - MOST_REFS} more" if len(places) > MOST_REFS else "")


@register.filter
def spared(called: dict[int, str], spare: Any) -> str:
    """How many of which stacks can go: "2 of A3 and 1 of B1"."""
    parts = [f"{count} of {called.get(int(ref), ref)}" for ref, count in spare]
    said = parts[:MOST_REFS] + ([f"of {len(parts) - MOST_REFS} more"] if len(parts) > MOST_REFS else [])
    return listed(said) if said else ""


@register.filter
def condition(value: Any) -> str:
    """A condition of a call in words: a range, a word, or some words."""
    if isinstance(value, dict):
        return " ".join(f"{name} {number:g}" for name, number in value.items())
    return " or ".join(value) if isinstance(value, list) else str(value)


@register.filter
def percent(share: float) -> str:
    """A share of a whole, in per cent."""
    return f"{share * 100:.0f} %"


@register.filter
def clock_hour(hour: int) -> int:
    """An hour that is counted on through the days, as a clock shows it."""
    return hour % 24


@register.filter
def clock(time: int | str, units: System) -> str:
    """An hour, or a time, by the reader's clock."""
    return clock_said(time, units)


@register.filter
def whole_days(each: Mapping[str, float]) -> dict[str, str]:
    """The days of one category of a plan, whole and adding up: first_choice, covered and expected."""
    covered = each.get("answered", 0.0) if each else 0.0
    first = min(each.get("first_choice") or 0.0, covered) if each else 0.0
    shown = split_days(first, covered, each["expected"] if each else 0.0)
    return {"first_choice": shown[0], "covered": total_shown(shown[:2]), "expected": shown[-1]}


@register.filter
def ordinal(number: int) -> str:
    """A small number in a row, in words: third."""
    return _ORDINALS[number] if 0 < number < len(_ORDINALS) else f"{number}th"


@register.filter
def less_one(number: int) -> int:
    """The others, of so many."""
    return number - 1


@register.simple_tag
def food_sign(food: str) -> SafeString:
    """The small sign of a food: its shape stands for its kind, and its name goes with it."""
    return sign("ui/food.html", food=food, shape=FOOD_SHAPES[food])


@register.simple_tag
def state_sign(state: str) -> SafeString:
    """How days are covered, as a filled circle and in words: first choice, will do, or not covered."""
    return mark_safe(sign("ui/state.html", state=state).strip())  # noqa: S308 - drawn by a template


_ORDINALS = ("", "first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth")
FOOD_SHAPES = {
    **dict.fromkeys(("shad", "herring", "shiner", "minnow", "mullet", "menhaden", "pilchard"), "slim"),
    **dict.fromkeys(("sunfish", "perch", "crappie", "young-bass", "pinfish"), "deep"),
    **dict.fromkeys(("goby", "killifish"), "bottom"),
    "crawfish": "claws", "leech": "leech", "insect": "insect", "frog": "frog", "shrimp": "shrimp", "crab": "crab",
    "unknown": "unknown",
}  # fmt: skip


@register.filter
def trait(name: str) -> str:
    """A trait's name in words."""
    return name.replace("flake_hues", "colour of flake").replace("_", " ")


@register.filter
def apart(difference: float) -> str:
    """A colour difference (CIE 1976) in words."""
    steps = ((2.3, "not to be told apart"), (6, "hardly to be told apart"), (12, "close"), (25, "some way apart"))
    return next((words for most, words in steps if difference <= most), "far apart")


@register.filter
def less(one: int, other: int) -> int:
    """A whole number less another."""
    return one - other


@register.filter
def days_exact(value: float) -> str:
    """A number of days as it was entered."""
    return f"{value:g}"


@register.filter
def counted(value: float, words: str) -> str:
    """A number with its word: 3|counted:"day,days"."""
    one, many = words.split(",")
    said = days_said(value)
    return f"{said} {one if 0 < value < 1.5 else many}"


@register.filter
def about_times(value: float) -> str:
    """How many times as much, as one says it: "about twice", "about 1.6 times"."""
    near = round(value * 2) / 2
    return "about twice" if near == 2.0 else f"about {value:.1f} times".replace(".0 ", " ")


_NUMBER_WORDS = ("No", "One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine", "Ten")


@register.filter
def in_words(value: int) -> str:
    """A small whole number as a word that opens a sentence."""
    return _NUMBER_WORDS[value] if 0 <= value < len(_NUMBER_WORDS) else str(value)


@register.filter
def ounces(weight_oz: float | None, units: System) -> str:
    """A weight in the reader's units; nothing where it is not known."""
    return write_weight(weight_oz, units) if weight_oz else ""


@register.filter
def in_feet(feet: float | None, units: System) -> str:
    """A depth in the reader's units; nothing where it is not known."""
    return "" if feet is None else write_depth(feet, units)


@register.filter
def warmth(temp_f: float, units: System) -> str:
    """A temperature in the reader's units."""
    return write_temperature(temp_f, units)


@register.filter
def in_units(inches: float | None, units: System) -> str:
    """A length in the reader's units; nothing where it is not known."""
    return "" if inches is None else write_length(float(inches), units)


@register.simple_tag(takes_context=True)
def sight_range(context: dict[str, Any], low_in: float, below_in: float | None) -> str:
    """A range of visibilities in the reader's units."""
    return write_range(low_in, below_in, context["units"])


@register.filter
def month_name(number: int) -> str:
    """A month by its number: 1 is January."""
    return calendar.month_name[number] if 1 <= number <= 12 else ""
