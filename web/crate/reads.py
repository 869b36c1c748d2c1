"""Reading the crate, always from its owner."""

from django.db.models import Prefetch, QuerySet, Sum
from django.shortcuts import get_object_or_404

from tackle.colours.palette import Palette
from tackle.crate.lure import Lure as CoreLure
from web.accounts.models import User
from web.crate.models import Change, Lure, Tray


def trays_of(owner: User) -> QuerySet[Tray]:
    """The owner's trays with their lures, by letter."""
    lures = Prefetch("lures", Lure.objects.order_by("position", "pk"))
    return Tray.objects.filter(owner=owner).prefetch_related(lures)


def lures_of(owner: User) -> QuerySet[Lure]:
    return Lure.objects.filter(tray__owner=owner).select_related("tray")


def lure_of(owner: User, pk: int) -> Lure:
    return get_object_or_404(lures_of(owner), pk=pk)


def change_of(owner: User, pk: int) -> Change:
    return get_object_or_404(Change, owner=owner, pk=pk, undone=False)


def counts_owned(owner: User) -> dict[str, dict[str, int]]:
    """How many of each colour are owned: category -> card id -> count."""
    owned: dict[str, dict[str, int]] = {}
    rows = lures_of(owner).order_by().values_list("category", "card").annotate(total=Sum("count"))
    for category, card, total in rows:
        owned.setdefault(category, {})[card] = total
    return owned


def home_of(trays: list[Tray], category: str) -> Tray | None:
    """Of some trays, the one that holds most of a category; the first where none does."""
    held = [sum(lure.count for lure in tray.lures.all() if lure.category == category) for tray in trays]
    return trays[held.index(max(held))] if trays else None


def refs(trays: list[Tray]) -> dict[int, str]:
    """What a lure is called by its place: the third in tray A is A3."""
    return {lure.pk: f"{tray.letter}{place}" for tray in trays for place, lure in enumerate(tray.lures.all(), 1)}


def core_lures(trays: list[Tray], palette: Palette) -> list[CoreLure]:
    """The lures as the core reads them; `ref` is the key, for finding the row again."""
    return [
        CoreLure(str(lure.pk), lure.category, palette.by_id[lure.card], lure.name, lure.count, lure.size_in)
        for tray in trays
        for lure in tray.lures.all()
        if lure.card in palette.by_id
    ]
