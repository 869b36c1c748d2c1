"""A colour that a heap names and nobody has: described in four presses, and one's own from then on."""

from dataclasses import replace
from typing import Final

from django.core.exceptions import ValidationError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render

from tackle.base.vocabulary import CATEGORIES, Accent, Flake, FlakeHue, Opacity, Tone
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from web.common.accounts.models import User
from web.common.accounts.request import OwnRequest
from web.common.ui.words import choices, label
from web.domain.colours.selectors import get_palette
from web.domain.colours.services import keep_like

MOST_NAME = 60
_BELLIES: Final = (Accent.PALE_BELLY, Accent.YELLOW_BELLY, Accent.ORANGE_BELLY, Accent.CHARTREUSE_BELLY)
_BELLY: Final = (("", "like the rest"), *((accent.value, label(accent)) for accent in _BELLIES))
_PAINT: Final = {
    Accent.PALE_BELLY: "#efeadd", Accent.YELLOW_BELLY: "#e6c94a", Accent.ORANGE_BELLY: "#e07a2a",
    Accent.CHARTREUSE_BELLY: "#c6d83a",
}  # fmt: skip
_HUES: Final = {
    "black": "#14140f", "red": "#c02a1c", "purple": "#7a3fa0", "gold": "#d8ac3c", "silver": "#dfe5ea",
    "blue": "#2b4fd0", "green": "#2f9a4e", "copper": "#b8672f",
}  # fmt: skip


def describe(request: OwnRequest) -> HttpResponse:
    """The four steps: tone, see-through, flake, belly; posted, the colour that they make, as {"card", "called"}."""
    palette = get_palette(request.user)
    if request.method == "POST":
        return _made(request, request.user, palette)
    category = request.GET.get("category", "")
    if category not in CATEGORIES:
        raise Http404
    here = list(dict.fromkeys(card.tone for card in palette.sold_in(category)))
    tones = [*here, *(tone for tone in Tone if tone not in here)]
    steps = [
        ("tone", "Its tone", [(tone.value, label(tone)) for tone in tones]),
        ("opacity", "How far one sees into it", choices(Opacity)),
        ("flake", "Its flake", [("", "no flake"), *((hue, f"{hue} flake") for hue in _HUES)]),
        ("belly", "Its belly", list(_BELLY)),
    ]
    context = {"steps": steps, "category": category, "name": request.GET.get("name", "")[:MOST_NAME]}
    return render(request, "intake/describe.html", context)


def _made(request: HttpRequest, owner: User, palette: Palette) -> JsonResponse:
    post = request.POST
    try:
        card = _card(palette, post.get("category", ""), {name: post.get(name, "") for name in _FIELDS})
        made = keep_like(owner, replace(card, name=post.get("name", "")[:MOST_NAME] or card.name), card.sold_in[0])
    except ValueError:
        return JsonResponse({"wrong": "Choose a tone, how far one sees into it, a flake and a belly."}, status=422)
    except ValidationError as error:
        return JsonResponse({"wrong": " ".join(error.messages)}, status=422)
    return JsonResponse({"card": made.card, "called": made.entry["name"]})


_FIELDS: Final = ("tone", "opacity", "flake", "belly")


def _card(palette: Palette, category: str, told: dict[str, str]) -> Colour:
    """A card like the nearest of that tone, of one category, with what was told of it. Raises ValueError."""
    tone, opacity = Tone(told["tone"]), Opacity(told["opacity"])
    belly = Accent(told["belly"]) if told["belly"] else None
    hues = (FlakeHue(told["flake"]),) if told["flake"] else ()
    if category not in CATEGORIES or belly not in (None, *_BELLIES) or (hues and told["flake"] not in _HUES):
        raise ValueError(category)
    like = next((card for card in (*palette.sold_in(category), *palette.cards) if card.tone == tone), palette.cards[0])
    name = " ".join([label(tone), *(f"{hue}-flake" for hue in hues), *([label(belly).lower()] if belly else [])])
    accents = tuple(one for one in like.accents if one not in _BELLIES)
    return replace(
        like, name=name, tone=tone, opacity=opacity, sold_in=(category,),
        flake=(like.flake if like.flake is not Flake.NONE else next(one for one in Flake if one is not Flake.NONE))
        if hues else Flake.NONE,
        flake_hues=hues, flake_srgb=tuple(_HUES[hue] for hue in hues),
        accents=(*accents, belly) if belly else accents, belly=_PAINT[belly] if belly else like.side,
    )  # fmt: skip
