"""A colour that a heap names and nobody has: described in four presses, and one's own from then on."""

from typing import Final

from django.core.exceptions import ValidationError
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import render

from tackle.base.vocabulary import CATEGORIES, Opacity, Tone
from tackle.colours.described import BELLIES, FLAKE_SRGB, describe_colour
from tackle.colours.palette import Palette
from web.common.accounts.request import OwnRequest
from web.common.ui.words import choices, label
from web.domain.colours.selectors import get_palette
from web.domain.colours.services import keep_like

MOST_NAME = 60
_TOLD: Final = ("category", "tone", "opacity", "flake", "belly")


def describe(request: OwnRequest) -> HttpResponse:
    """The four steps: tone, see-through, flake, belly; posted, the colour that they make, as {"card", "called"}."""
    palette = get_palette(request.user)
    if request.method == "POST":
        return _made(request, palette)
    category = request.GET.get("category", "")
    if category not in CATEGORIES:
        raise Http404
    here = list(dict.fromkeys(card.tone for card in palette.sold_in(category)))
    tones = [*here, *(tone for tone in Tone if tone not in here)]
    steps = [
        ("tone", "Its tone", [(tone.value, label(tone)) for tone in tones]),
        ("opacity", "How far one sees into it", choices(Opacity)),
        ("flake", "Its flake", [("", "no flake"), *((hue.value, f"{hue} flake") for hue in FLAKE_SRGB)]),
        ("belly", "Its belly", [("", "like the rest"), *((accent.value, label(accent)) for accent in BELLIES)]),
    ]
    context = {"steps": steps, "category": category, "name": request.GET.get("name", "")[:MOST_NAME]}
    return render(request, "intake/describe.html", context)


def _made(request: OwnRequest, palette: Palette) -> JsonResponse:
    told = {name: request.POST.get(name, "") for name in _TOLD}
    named = request.POST.get("name", "").strip()[:MOST_NAME]
    words = [told["tone"], told["flake"] and f"{told['flake']} flake", told["belly"].replace("-", " ")]
    try:
        card = describe_colour(palette, name=named or " ".join(filter(None, words)).capitalize(), **told)
        made = keep_like(request.user, card, told["category"])
    except ValueError:
        return JsonResponse({"wrong": "Choose a tone, how far one sees into it, a flake and a belly."}, status=422)
    except ValidationError as error:
        return JsonResponse({"wrong": " ".join(error.messages)}, status=422)
    return JsonResponse({"card": made.card, "called": made.entry["name"]})
