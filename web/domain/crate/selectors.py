"""Reading the crate, always from its owner."""

from collections.abc import Iterable
from contextlib import suppress
from dataclasses import dataclass
from datetime import date
from sys import intern

from django.db.models import Prefetch, Q, QuerySet, Sum
from django.db.models.functions import Length
from django.shortcuts import get_object_or_404

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_whole
from tackle.base.units import read_length_in
from tackle.colours.palette import Palette
from tackle.crate import storage
from tackle.crate.lure import Lure as CoreLure
from tackle.intake.kinds import own_kind_word
from web.common.accounts.models import User
from web.common.ui.keys import LARGEST_KEY
from web.domain.crate.models import Heap, ImportDraft, KindWord, Lure, Mark, Picture, Place, Printed, Score, Thing, Tray

PAGE = 60
MOST_WORDS = 8  # of a search; each asks the database for more
SAME_SIZE_IN = 0.06  # sizes are found as they are said, not to the hundredth
_CORE = ("pk", "category", "card", "name", "count", "size_in", "weight_oz", "depth_ft", "sound")
_AS_THEY_LIE = (Length("tray__letter"), "tray__letter", "position", "pk")


def list_trays(owner: User) -> QuerySet[Tray]:
    """The owner's trays with their lures, by letter."""
    lures = Prefetch("lures", Lure.objects.order_by("position", "pk"))
    return list_trays_with_places(owner).prefetch_related(lures)


def list_trays_with_places(owner: User) -> QuerySet[Tray]:
    """The owner's trays with their places, by letter, in the order A to Z, AA."""
    return Tray.objects.filter(owner=owner).select_related("place").order_by(Length("letter"), "letter")


def get_tray(owner: User, pk: int) -> Tray:
    return get_object_or_404(list_trays(owner), pk=pk)


def list_places(owner: User) -> QuerySet[Place]:
    return Place.objects.filter(owner=owner)


def list_lures(owner: User) -> QuerySet[Lure]:
    return Lure.objects.filter(tray__owner=owner).select_related("tray__place")


def get_lure(owner: User, pk: int) -> Lure:
    return get_object_or_404(list_lures(owner), pk=pk)


def get_picture(owner: User, pk: int) -> Picture:
    return get_object_or_404(Picture, owner=owner, pk=pk)


def get_draft(owner: User, pk: int) -> ImportDraft:
    return get_object_or_404(ImportDraft, owner=owner, pk=pk)


def list_marks(owner: User) -> list[Mark]:
    return list(Mark.objects.filter(owner=owner))


def score_before(owner: User, day: date) -> Score | None:
    """The last score written down on or before a day."""
    return Score.objects.filter(owner=owner, day__lte=day).first()


def printed_names(owner: User) -> dict[tuple[str, str], str]:
    """What the angler chose for printed names before: (category, name) -> card id."""
    rows = Printed.objects.filter(owner=owner).values_list("category", "text", "card")
    return {(category, text): card for category, text, card in rows}


def kind_words(owner: User) -> dict[str, str]:
    """What the angler chose for words that name no kind: word -> category."""
    return dict(KindWord.objects.filter(owner=owner).values_list("text", "category"))


def get_thing(owner: User, pk: int) -> Thing:
    return get_object_or_404(Thing.objects.filter(tray__owner=owner).select_related("tray"), pk=pk)


def get_heap(owner: User) -> Heap:
    """The lines that are typed and not yet taken in."""
    return Heap.objects.filter(owner=owner).first() or Heap(owner=owner)


def list_things(owner: User) -> list[Thing]:
    """What lies in the trays and has no colour."""
    return list(Thing.objects.filter(tray__owner=owner).select_related("tray__place"))


@dataclass(frozen=True, slots=True)
class Stock:
    """A lure as the core reads it, and whether it lies at home; the core's `ref` is the row's key."""

    lure: CoreLure
    letter: str
    at_home: bool
    aboard: bool


def list_stock(owner: User, palette: Palette) -> tuple[Stock, ...]:
    """All lures whose card is known."""
    return with_known_card(list_shelf(owner, palette), palette)


def with_known_card(shelf: Iterable[Stock], palette: Palette) -> tuple[Stock, ...]:
    """Of some lures those whose card is known."""
    return tuple(one for one in shelf if one.lure.card.id in palette.by_id)


def list_shelf(owner: User, palette: Palette) -> tuple[Stock, ...]:
    """All lures, those too whose card is gone, in the order of the trays. Words that many share are held once."""
    rows = (
        Lure.objects.filter(tray__owner=owner)
        .order_by(*_AS_THEY_LIE)
        .values_list(*_CORE, "condition", "tray__letter", "tray__place__kind")
    )
    return tuple(
        Stock(
            CoreLure(
                str(pk),
                intern(category),
                palette.known(card),
                name,
                count,
                size,
                weight,
                depth,
                intern(sound),
                intern(condition),
                intern(own_kind_word(name)) if name else "",
            ),
            intern(letter),
            kind == Place.Kind.HOME,
            kind in (Place.Kind.BOAT, None),
        )
        for pk, category, card, name, count, size, weight, depth, sound, condition, letter, kind in rows
    )


def lure_codes(stock: Iterable[Stock]) -> dict[int, str]:
    """What a lure is called by its place: the third in tray A is A3."""
    called: dict[int, str] = {}
    seen: dict[str, int] = {}
    for one in stock:
        seen[one.letter] = seen.get(one.letter, 0) + 1
        called[int(one.lure.ref)] = f"{one.letter}{seen[one.letter]}"
    return called


def list_homes(stock: Iterable[Stock], trays: Iterable[Tray]) -> dict[str, Tray]:
    """Where each category lives: the tray outside home that holds most of it, the earliest of several."""
    out = {tray.letter: tray for tray in trays if not tray.at_home}
    held = ((one.letter, one.lure.category, one.lure.count) for one in stock if one.letter in out)
    return {category: out[letter] for category, letter in storage.find_homes(held).items()}


def count_categories(owner: User) -> dict[str, int]:
    """How many lures of each category somebody has."""
    held = Lure.objects.filter(tray__owner=owner).order_by().values_list("category")
    return dict(held.annotate(total=Sum("count")))


def kind_in(tray: Tray | None) -> str:
    """The category that a tray holds most of, an empty text where it holds nothing."""
    held = Lure.objects.filter(tray=tray).order_by().values_list("category").annotate(total=Sum("count"))
    most = held.order_by("-total").first()
    return most[0] if most else ""


def found_lures(owner: User, palette: Palette, words: str, category: str, place: str, tray: str) -> QuerySet[Lure]:
    """The lures that some words, a category, a place and a tray leave, in the order of the trays."""
    found = list_lures(owner).order_by(*_AS_THEY_LIE)
    for word in words.lower().split()[:MOST_WORDS]:
        cards = [
            card.id
            for card in palette.by_id.values()
            if word in f"{card.name} {card.read_as} {card.tone} {card.code}".lower()
        ]
        wanted = (
            Q(name__icontains=word) | Q(card__in=cards) | Q(category__icontains=word) | Q(note__icontains=word)
            | Q(typed__icontains=word)
            | Q(condition=word) | Q(sound=word)
        )  # fmt: skip
        if word[0].isdigit():
            with suppress(InvalidInput):
                size = read_length_in(word, owner.units, "size")
                wanted |= Q(size_in__range=(size - SAME_SIZE_IN, size + SAME_SIZE_IN))
        found = found.filter(wanted)
    if category:
        found = found.filter(category=category)
    if place:
        found = found.filter(tray__place_id=read_whole(place, 0, LARGEST_KEY) or 0)
    if tray:
        found = found.filter(tray_id=read_whole(tray, 0, LARGEST_KEY) or 0)
    return found
