"""The palette as one angler sees it: ours, and their own cards after it."""

from contextlib import suppress

from django.shortcuts import get_object_or_404

from tackle.base.errors import DataError
from tackle.colours.colour import Colour, read_card
from tackle.colours.palette import Palette, coded_apart, house_palette
from web.common.accounts.models import User
from web.domain.colours.models import OwnCard

OWN = "your own colours"


def get_palette(owner: User) -> Palette:
    """Our palette with the owner's own cards; their retired ones are known, but not offered."""
    own: list[tuple[Colour, bool]] = []
    for row in OwnCard.objects.filter(owner=owner):
        with suppress(DataError):  # one that does not read any more is as good as gone
            own.append((read_card(row.entry, OWN), row.retired))
    return _with_own(tuple(own)) if own else house_palette()


def _with_own(own: tuple[tuple[Colour, bool], ...]) -> Palette:
    house = house_palette().cards
    coded = list(zip(coded_apart((card for card, _ in own), house), (retired for _, retired in own), strict=True))
    return Palette(
        (*house, *(card for card, retired in coded if not retired)),
        retired=[card for card, retired in coded if retired],
    )


def get_own_card(owner: User, card_id: str) -> OwnCard:
    return get_object_or_404(OwnCard, owner=owner, card=card_id)


def own_ids(owner: User) -> dict[str, bool]:
    """The ids of the owner's own cards, each with whether it is retired."""
    return dict(OwnCard.objects.filter(owner=owner).values_list("card", "retired"))


def searched(palette: Palette, words: str, wanted: dict[str, str]) -> list[Colour]:
    """The cards that any name or trait word matches, and that have the wanted traits.

    `wanted` may name category, tone, forage and finish.
    """
    cards = palette.sold_in(wanted["category"]) if wanted.get("category") else palette.cards
    found = []
    for card in cards:
        text = " ".join((card.name, card.read_as, card.code, card.tone, *card.also)).replace("-", " ").lower()
        if (
            all(word in text for word in words.lower().replace("-", " ").split()[:8])
            and wanted.get("tone", card.tone) == card.tone
            and wanted.get("finish", card.finish) == card.finish
            and ("forage" not in wanted or wanted["forage"] in card.imitates)
        ):
            found.append(card)
    return found
