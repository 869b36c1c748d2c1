"""Every change to the crate: checked, written in one go, and recorded in the history."""

import string
from collections.abc import Iterable, Mapping, Sequence
from decimal import Decimal
from itertools import product
from typing import Any

from django.core.exceptions import ValidationError
from django.db.models import Max

from tackle.errors import Refused
from tackle.intake.limits import MOST_COUNT
from tackle.intake.sheet_rows import Draft
from tackle.intake.words import normal
from tackle.numbers import read_number
from web.accounts.models import User
from web.accounts.writing import one_change
from web.colours.reads import own_card_of, palette_of
from web.crate.models import ImportDraft, Lure, Mark, Picture, Place, Printed, Score, Tray
from web.crate.reads import bare_trays_of, draft_of, lure_of, lures_of, places_of, tray_of
from web.history.kinds import LURE, TRAY
from web.history.models import Change
from web.history.record import record
from web.history.states import States, as_json, refuse_stale, states, steps

AREA = Change.Area.CRATE
FIRST_PLACES = {Place.Kind.BOAT: "Boat", Place.Kind.HOME: "Home stock", Place.Kind.BANK: "Bank bag"}
FIRST_TRAY = "First tray"
MOST_NEW_TRAYS = 40
MOST_LURES = 20_000


@one_change
def make_tray(
    owner: User, name: str, label: str, place: str = Place.Kind.BOAT, rows: int = 4, columns: int = 3
) -> Change:
    """A new tray with the next free letter, in the place of one kind. Raises ValidationError."""
    taken = set(Tray.objects.filter(owner=owner).values_list("letter", flat=True))
    singles = string.ascii_uppercase
    letters = (*singles, *("".join(pair) for pair in product(singles, repeat=2)))
    letter = next((one for one in letters if one not in taken), "")
    if not letter:
        raise ValidationError("There are 702 trays already, A to ZZ.")
    where = _place(owner, place)
    tray = Tray(owner=owner, letter=letter, name=name, label=label, place=where, rows=rows, columns=columns)
    tray.full_clean()
    tray.save()
    return record(owner, AREA, f"Tray {letter} is there.", steps(TRAY, {}, states(TRAY, [tray.pk])))


def tray_made(change: Change) -> Tray:
    """The tray that a change made."""
    return Tray.objects.select_related("place").get(pk=change.steps[-1]["tray"])


@one_change
def first_tray(owner: User) -> Tray:
    """The owner's first tray; who has none yet gets one."""
    return bare_trays_of(owner).first() or tray_made(make_tray(owner, FIRST_TRAY, "teal"))


@one_change
def edit_tray(owner: User, pk: int, shown: Mapping[str, Any] | None = None, **values: Any) -> Change:
    """Changes a tray's name, label, place or grid. Raises ValidationError; Stale where it is not as it was shown."""
    tray = tray_of(owner, pk)
    before = states(TRAY, [pk])
    if "place" in values:
        values["place_id"] = _place(owner, values.pop("place")).pk
    refuse_stale(before[pk], shown, values)
    for field, value in values.items():
        setattr(tray, field, value)
    tray.full_clean()
    tray.save(update_fields=list(values))
    return record(owner, AREA, f"Tray {tray.letter} is changed.", steps(TRAY, before, states(TRAY, [pk])))


@one_change
def delete_tray(owner: User, pk: int) -> Change:
    """Deletes an empty tray. Raises ValidationError where something is in it."""
    tray = tray_of(owner, pk)
    if Lure.objects.filter(tray=tray).exists():
        raise ValidationError("There is something in it: move that first.")
    before = states(TRAY, [pk])
    tray.delete()
    return record(owner, AREA, f"Tray {tray.letter} is gone.", steps(TRAY, before, {}))


@one_change
def add_lure(owner: User, **values: Any) -> Change:
    """A new lure. Raises ValidationError with the field."""
    tray = values["tray"]
    if tray.owner_id == owner.pk and lures_of(owner).count() >= MOST_LURES:
        raise ValidationError(f"The crate holds at most {MOST_LURES:,} stacks.")
    lure = _checked(owner, Lure(position=_next_position(tray)), values)
    lure.save()
    return _recorded(owner, f"{_name(owner, lure.card)} is added.", {}, [lure.pk])


@one_change
def edit_lure(owner: User, pk: int, shown: Mapping[str, Any] | None = None, **values: Any) -> Change:
    """Changes a lure. Raises ValidationError with the field; Stale where it is not any more as it was shown."""
    lure, before = lure_of(owner, pk), states(LURE, [pk])
    refuse_stale(before[pk], shown, values)
    lure = _checked(owner, lure, values)
    lure.save(update_fields=list(values))
    return _recorded(owner, f"{_name(owner, lure.card)} is changed.", before, [pk])


def _checked(owner: User, lure: Lure, values: Mapping[str, Any]) -> Lure:
    known = lure.card
    for field, value in values.items():
        setattr(lure, field, value)
    if lure.tray.owner_id != owner.pk:
        raise ValidationError({"tray": "That is not one of your trays."})
    if lure.picture and lure.picture.owner_id != owner.pk:
        raise ValidationError({"picture": "That is not one of your pictures."})
    lure.full_clean()
    if lure.card != known or "category" in values:
        try:
            palette_of(owner).card(lure.card, "card", lure.category)
        except Refused as refused:
            raise ValidationError({"card": f"{refused.wrong}."}) from refused
    return lure


@one_change
def delete_lure(owner: User, pk: int) -> Change:
    """Takes a lure out of the crate."""
    lure, before = lure_of(owner, pk), states(LURE, [pk])
    lure.delete()
    return _recorded(owner, f"{_name(owner, lure.card)} is taken out.", before, [])


@one_change
def move_lure(owner: User, pk: int, tray_pk: int, before_pk: int | None = None) -> Change:
    """Moves a lure to the end of a tray, or before another lure of it."""
    lure, tray = lure_of(owner, pk), tray_of(owner, tray_pk)
    there = [one for one in Lure.objects.filter(tray=tray).order_by("position", "pk") if one.pk != pk]
    at = next((place for place, one in enumerate(there) if one.pk == before_pk), len(there))
    there.insert(at, lure)
    before = states(LURE, [one.pk for one in there])
    lure.tray = tray
    for place, one in enumerate(there, 1):
        one.position = place
    Lure.objects.bulk_update(there, ["tray", "position"])
    words = f"{_name(owner, lure.card)} is moved to tray {tray.letter}."
    return _recorded(owner, words, before, before)


@one_change
def split_lure(owner: User, pk: int, count: int, tray_pk: int) -> Change:
    """Takes some of a stack into a stack of their own, or onto the same lure where that tray has it."""
    lure, tray = lure_of(owner, pk), tray_of(owner, tray_pk)
    if not 1 <= count < lure.count:
        raise ValidationError({"count": f"Of {lure.count} you can split off 1 to {lure.count - 1}."})
    return _carried(owner, f"{count} {_name(owner, lure.card)} to tray {tray.letter}.", [(lure, count, tray)])


@one_change
def merge_lures(owner: User, pk: int, into_pk: int) -> Change:
    """Puts one stack onto another of the same category and colour."""
    lure, into = lure_of(owner, pk), lure_of(owner, into_pk)
    if pk == into_pk or (lure.category, lure.card) != (into.category, into.card):
        raise ValidationError("Only stacks of one category and colour can be put together.")
    before = states(LURE, [pk, into_pk])
    _count(into, into.count + lure.count)
    lure.delete()
    return _recorded(owner, f"{_name(owner, into.card)}: two stacks are one.", before, [into_pk])


@one_change
def bring(owner: User, wanted: Sequence[tuple[str, str, int]]) -> Change:
    """Brings stock from home, each (category, card, count) to where it lies, or its category does. Raises
    ValidationError where home has none of them."""
    lures = list(lures_of(owner).order_by("tray__letter", "position", "pk"))
    first = next((one for one in bare_trays_of(owner) if not one.at_home), None)
    moves: list[tuple[Lure, int, Tray]] = []
    brought: list[str] = []
    there = {lure.pk: lure.count for lure in lures if lure.tray.at_home}
    for category, card, count in wanted:
        out = [lure for lure in lures if lure.category == category and not lure.tray.at_home]
        same = [lure for lure in out if lure.card == card]
        tray = (same or out)[0].tray if out else first
        home = [lure for lure in lures if (lure.category, lure.card) == (category, card) and lure.tray.at_home]
        left = count
        if tray is None:
            continue
        for lure in home:
            if one := min(left, there[lure.pk]):
                moves.append((lure, one, tray))
                there[lure.pk] -= one
                left -= one
        if left < count:
            brought.append(f"{count - left} {_name(owner, card)} from home to tray {tray.letter}")
    if not moves:
        raise ValidationError("There is none at home to bring.")
    words = f"{brought[0]}." if len(brought) == 1 else f"{sum(count for _, count, _ in moves)} pieces from home."
    return _carried(owner, words, moves)


@one_change
def put_away(owner: User, category: str, card: str) -> Change:
    """Takes all of a colour that is aboard home, into the tray where its category is kept there. Raises
    ValidationError where none is aboard."""
    lures = list(lures_of(owner).filter(category=category).order_by("tray__letter", "position", "pk"))
    out = [lure for lure in lures if lure.card == card and not lure.tray.at_home]
    if not out:
        raise ValidationError("There is none aboard to put away.")
    kept = next((lure.tray for lure in lures if lure.tray.at_home), None)
    home = kept or next((tray for tray in bare_trays_of(owner) if tray.at_home), None)
    home = home or tray_made(make_tray(owner, FIRST_PLACES[Place.Kind.HOME], "slate", Place.Kind.HOME))
    words = f"{sum(lure.count for lure in out)} {_name(owner, card)} home to tray {home.letter}."
    return _carried(owner, words, [(lure, lure.count, home) for lure in out])


@one_change
def take_out(owner: User, gone: Sequence[tuple[str, str, int]]) -> Change:
    """Takes what was lost or torn out of the counts, each (category, card, count), from what is aboard first; of what
    there is less of, all. Raises ValidationError where there is none of it."""
    lures = list(lures_of(owner).order_by("tray__letter", "position", "pk"))
    lures.sort(key=lambda lure: lure.tray.at_home)
    left: dict[int, int] = {}
    for category, card, count in gone:
        for lure in lures:
            if (lure.category, lure.card) == (category, card) and count:
                taken = min(count, left.get(lure.pk, lure.count))
                left[lure.pk] = left.get(lure.pk, lure.count) - taken
                count -= taken
    touched = [lure for lure in lures if left.get(lure.pk, lure.count) < lure.count]
    if not touched:
        raise ValidationError("There is none of it in the crate.")
    before = states(LURE, [lure.pk for lure in touched])
    pieces = sum(lure.count - left[lure.pk] for lure in touched)
    for lure in touched:
        if left[lure.pk]:
            _count(lure, left[lure.pk])
        else:
            lure.delete()
    words = f"{pieces} {'piece is' if pieces == 1 else 'pieces are'} out of the counts."
    return _recorded(owner, words, before, before)


@one_change
def make_over(owner: User, pk: int, count: int, card: str, done: str) -> Change:
    """Makes some of a stack into another colour, beside it in its tray. Raises ValidationError."""
    lure = lure_of(owner, pk)
    if not 1 <= count <= lure.count:
        raise ValidationError(f"There are {lure.count} of it.")
    words = f"{done}: {count} {_name(owner, lure.card)} {'is' if count == 1 else 'are'} {_name(owner, card)} now."
    return _carried(owner, words, [(lure, count, lure.tray)], card)


@one_change
def bought(owner: User, category: str, card: str, count: int) -> Change:
    """Puts what was bought into the crate: onto the same colour where it is there, else where its category lives."""
    held = lures_of(owner).filter(category=category, card=card).first()
    if held is not None:
        before = states(LURE, [held.pk])
        _count(held, held.count + count)
        return _recorded(owner, f"{count} {_name(owner, card)} bought.", before, [held.pk])
    trays = list(bare_trays_of(owner))
    lives = lures_of(owner).filter(category=category).exclude(tray__place__kind=Place.Kind.HOME).first()
    tray = lives.tray if lives else next((one for one in trays if not one.at_home), trays[0] if trays else None)
    return add_lure(
        owner, tray=tray or tray_made(make_tray(owner, "Bought", "teal")), category=category, card=card, count=count
    )


@one_change
def take_in(
    owner: User,
    drafts: Sequence[Draft],
    trays: Sequence[Tray | str],
    words: str,
    onto: Sequence[int | None] = (),
    source: tuple[ImportDraft, Sequence[int]] | None = None,
) -> Change:
    """Takes many lures in at once, each into the tray beside it in `trays`, a name meaning a new one, or more `onto` a
    stack that is there. Raises ValidationError; nothing half.

    `source`: the draft they come from and the rows of it that go with them; of two who take them in at once, one finds
    them gone. Without a row that is wanted the draft goes too.
    """
    if source is not None:
        held = draft_of(owner, source[0].pk)
        gone, _ = held.rows.filter(pk__in=source[1]).delete()
        if gone != len(source[1]):
            raise ValidationError("Its rows were changed or taken in elsewhere: look at it again.")
        if not held.rows.filter(sheet__in=held.wanted).exists():
            held.delete()
    return _put_in(owner, drafts, _with_new(owner, trays), onto or [None] * len(drafts), words)


@one_change
def enter_lures(
    owner: User, drafts: Sequence[Draft], trays: Sequence[Tray | None], onto: Sequence[int | None]
) -> Change:
    """Puts typed lures in, all or none: each a new stack in the tray beside it, or more `onto` a stack that is there.

    Without a tray they go into the first; the first lures of a new angler make it. Raises ValidationError.
    """
    pieces = sum(draft.count for draft in drafts)
    words = f"{_name(owner, drafts[0].card)} is added." if len(drafts) == 1 else f"{pieces} lures are typed in."
    first = first_tray(owner) if None in trays else None
    where = [tray for tray in (tray or first for tray in trays) if tray]
    return _put_in(owner, drafts, where, onto, words)


def _put_in(
    owner: User, drafts: Sequence[Draft], trays: Sequence[Tray], onto: Sequence[int | None], words: str
) -> Change:
    before = states(LURE, {pk for pk in onto if pk})
    held = {lure.pk: lure for lure in lures_of(owner).filter(pk__in=before)}
    rows = list(zip(drafts, trays, onto, strict=True))
    for draft, _, pk in rows:
        if pk in held:
            held[pk].count = _bounded(held[pk].count + draft.count)
    Lure.objects.bulk_update(held.values(), ["count"], batch_size=500)
    new = [(draft, tray) for draft, tray, pk in rows if pk not in held]
    made = _new_stacks(owner, [draft for draft, _ in new], [tray for _, tray in new])
    after = {one.pk: as_json({field: getattr(one, field) for field in LURE.fields}) for one in made}
    return record(owner, AREA, words, steps(LURE, before, after | states(LURE, held)))


def _new_stacks(owner: User, drafts: Sequence[Draft], trays: Sequence[Tray]) -> list[Lure]:
    """New stacks at the end of their trays, all at once. Raises ValidationError."""
    if lures_of(owner).count() + len(drafts) > MOST_LURES:
        raise ValidationError(f"That would make more than {MOST_LURES:,} stacks, which is the most a crate holds.")
    sold = {(category, card.id) for card in palette_of(owner).cards for category in card.sold_in}
    position = {tray.pk: _next_position(tray) for tray in set(trays)}
    lures = []
    for row, (draft, tray) in enumerate(zip(drafts, trays, strict=True), 1):
        if tray.owner_id != owner.pk or draft.wrong or (draft.category, draft.card) not in sold:
            raise ValidationError(f"Row {row} cannot be taken in as it is.")
        lures.append(
            Lure(
                tray=tray, category=draft.category, card=draft.card, name=draft.name, count=draft.count,
                size_in=draft.size_in, weight_oz=draft.weight_oz, depth_ft=draft.depth_ft, sound=draft.sound,
                price=None if draft.price is None else Decimal(f"{draft.price:.2f}"), condition=draft.condition,
                note=draft.note, position=position[tray.pk],
            )
        )  # fmt: skip
        position[tray.pk] += 1
    return Lure.objects.bulk_create(lures, batch_size=500)


def _with_new(owner: User, trays: Sequence[Tray | str]) -> list[Tray]:
    """The trays, a new one made for each name among them."""
    names = list(dict.fromkeys(tray for tray in trays if isinstance(tray, str)))
    if len(names) > MOST_NEW_TRAYS:
        raise ValidationError(f"{len(names)} new trays at once are too many; at most {MOST_NEW_TRAYS} are made.")
    made = {name: tray_made(make_tray(owner, name, "teal")) for name in names}
    return [made[tray] if isinstance(tray, str) else tray for tray in trays]


@one_change
def remember_name(owner: User, category: str, text: str, card: str) -> None:
    """Remembers the card chosen for a printed name."""
    if plain := normal(text)[:80]:
        Printed.objects.update_or_create(owner=owner, category=category, text=plain, defaults={"card": card})


@one_change
def keep_picture(owner: User, jpeg: bytes, width: int, height: int) -> Picture:
    return Picture.objects.create(owner=owner, jpeg=jpeg, width=width, height=height)


@one_change
def keep_corners(owner: User, pk: int, corners: list[list[float]]) -> None:
    """Keeps where in a picture the corners of its tray are, in pixels."""
    Picture.objects.filter(owner=owner, pk=pk).update(corners=corners)


@one_change
def drop_card(owner: User, card_id: str) -> str:
    """Deletes a card of the owner's own, or retires it where a lure has it; says which."""
    row = own_card_of(owner, card_id)
    name = row.entry["name"]
    if lures_of(owner).filter(card=card_id).exists():
        row.retired = True
        row.save(update_fields=["retired"])
        return f"{name} is retired: lures in the crate still have it."
    row.delete()
    return f"{name} is deleted."


@one_change
def mark_finding(owner: User, finding: str, words: str, state: str, reason: str) -> None:
    """Says of a finding that it is done, put off, or dismissed with a reason; no state takes that back."""
    if state not in (*Mark.State.values, ""):
        raise ValidationError(f"{state} is not one of {', '.join(Mark.State.values)}.")
    if state == Mark.State.NO and not reason.strip():
        raise ValidationError("Say why: the check will respect it.")
    if not state:
        Mark.objects.filter(owner=owner, finding=finding[:120]).delete()
        return
    values = {"words": words[:200], "state": state, "reason": reason.strip()[:200]}
    Mark.objects.update_or_create(owner=owner, finding=finding[:120], defaults=values)


@one_change
def set_sameness(owner: User, text: str, any_form: bool) -> None:
    """Sets how far two colours may differ and count as one, and whether other forms do. Raises ValidationError."""
    value = read_number(text, 0, 40)
    if value is None:
        raise ValidationError(f"“{text[:20]}” is no difference: it goes from 0 (only the same card) to 40.")
    owner.same_within, owner.any_form = value, any_form
    owner.save(update_fields=["same_within", "any_form"])


@one_change
def set_yardstick(owner: User, first: str, second: str, depth: str) -> None:
    """Sets which two colours, how deep, are the measure of nearly one to the fish. Raises ValidationError."""
    known, feet = palette_of(owner).by_id, read_number(depth, 0, 60)
    if first not in known or second not in known or first == second:
        raise ValidationError("Choose two colours that are not the same.")
    if feet is None:
        raise ValidationError(f"“{depth[:20]}” is no depth from 0 to 60 ft.")
    owner.alike_first, owner.alike_second, owner.alike_depth_ft = first, second, feet
    owner.save(update_fields=["alike_first", "alike_second", "alike_depth_ft"])


@one_change
def note_score(owner: User, day: Any, answered: float, expected: float) -> None:
    """Writes down how the crate stands on a day."""
    Score.objects.update_or_create(owner=owner, day=day, defaults={"answered": answered, "expected": expected})


def _carried(owner: User, words: str, moves: Sequence[tuple[Lure, int, Tray]], card: str = "") -> Change:
    """Moves some of some stacks into trays, onto the like of each where it is there; recorded. With a `card` they are
    that from now on."""
    trays = {tray.pk for _, _, tray in moves}
    touched = {lure.pk for lure, _, _ in moves}
    touched |= set(Lure.objects.filter(tray__in=trays).values_list("pk", flat=True))
    before = states(LURE, touched)
    for lure, count, tray in moves:
        touched.add(_carry(lure, count, tray, card or lure.card))
    return _recorded(owner, words, before, touched)


def _carry(lure: Lure, count: int, tray: Tray, card: str) -> int:
    form = {"category": lure.category, "card": card, "size_in": lure.size_in, "depth_ft": lure.depth_ft}
    there = Lure.objects.filter(tray=tray, sound=lure.sound, **form).exclude(pk=lure.pk).first()
    if there is not None:
        _count(there, there.count + count)
    else:
        there = Lure.objects.get(pk=lure.pk)
        there.pk, there.tray, there.count, there.position = None, tray, count, _next_position(tray)
        there.card = card
        there._state.adding = True
        there.save()
    if count == lure.count:
        lure.delete()
    else:
        _count(lure, lure.count - count)
    return int(there.pk)


def _count(lure: Lure, count: int) -> None:
    lure.count = _bounded(count)
    lure.save(update_fields=["count"])


def _bounded(count: int) -> int:
    if count > MOST_COUNT:
        raise ValidationError(f"A stack holds at most {MOST_COUNT}.")
    return count


def _recorded(owner: User, words: str, before: States, keys: Iterable[int]) -> Change:
    """A change of lures written into the history, from what they were to what those with these keys are now."""
    return record(owner, AREA, words, steps(LURE, before, states(LURE, keys)))


def _place(owner: User, kind: str) -> Place:
    """The owner's place of one kind; the first time, all three are made."""
    if kind not in Place.Kind.values:
        raise ValidationError({"place": f"{kind} is not one of {', '.join(Place.Kind.values)}."})
    if not places_of(owner).exists():
        Place.objects.bulk_create(Place(owner=owner, name=name, kind=kind) for kind, name in FIRST_PLACES.items())
    return next(place for place in places_of(owner) if place.kind == kind)


def _next_position(tray: Tray) -> int:
    return int(Lure.objects.filter(tray=tray).aggregate(last=Max("position"))["last"] or 0) + 1


def _name(owner: User, card: str) -> str:
    known = palette_of(owner).by_id.get(card)
    return known.name if known else card
