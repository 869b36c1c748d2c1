"""Many lures at once: typed, or taken in from a file."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Final

from django.core.exceptions import ValidationError

from tackle.intake.line import LineRead
from tackle.intake.sheet_rows import Draft
from tackle.intake.words import normal
from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.domain.colours.selectors import get_palette
from web.domain.crate.models import Heap, ImportDraft, KindWord, Lure, Picture, Printed, Tray
from web.domain.crate.selectors import get_draft, list_lures
from web.domain.crate.services.stacks import AREA, MOST_LURES, bounded, card_name, lines_joined, next_position
from web.domain.crate.services.things import NewThing, things_put_in
from web.domain.crate.services.trays import first_tray, make_tray, tray_made
from web.domain.history.kinds import LURE
from web.domain.history.models import Change
from web.domain.history.record import record, undo
from web.domain.history.states import Step, as_json, states, steps

MOST_NEW_TRAYS = 40
MOST_WAITING = 10_000  # lines of a heap


@one_change
def take_in(
    owner: User,
    drafts: Sequence[Draft],
    trays: Sequence[Tray | str],
    words: str,
    onto: Sequence[int | None] = (),
    source: tuple[ImportDraft, Sequence[int]] | None = None,
) -> Change:
    """Takes many lures and things in at once, each into the tray beside it in `trays`, a name meaning a new one; or
    more `onto` a stack that is there. Raises ValidationError; nothing half.

    `source`: the draft they come from and the rows of it that go with them; of two who take them in at once, one finds
    them gone. Without a row that is wanted the draft goes too.
    """
    if source is not None:
        held = get_draft(owner, source[0].pk)
        gone, _ = held.rows.filter(pk__in=source[1]).delete()
        if gone != len(source[1]):
            raise ValidationError("Its rows were changed or taken in elsewhere: look at it again.")
        if not held.rows.filter(sheet__in=held.wanted).exists():
            held.delete()
    rows = list(zip(drafts, _with_new(owner, trays), onto or [None] * len(drafts), strict=True))
    new = [
        NewThing(draft.thing, draft.count, draft.weight_oz, draft.size_in, tray, draft.typed)
        for draft, tray, _ in rows
        if draft.thing
    ]
    lures = [row for row in rows if not row[0].thing]
    put = things_put_in(owner, new) if new else []
    return _put_in(
        owner, [draft for draft, *_ in lures], [tray for _, tray, _ in lures], [pk for *_, pk in lures], words, put
    )


@dataclass(frozen=True, slots=True)
class Learned:
    """What was chosen for words: the kind of a word, and the card of (category, name)."""

    kinds: Mapping[str, str] = field(default_factory=dict)
    names: Mapping[tuple[str, str], str] = field(default_factory=dict)


NOTHING_LEARNED: Final = Learned()


@one_change
def enter_lures(
    owner: User,
    drafts: Sequence[Draft],
    trays: Sequence[Tray | None],
    onto: Sequence[int | None],
    things: Sequence[tuple[LineRead, str, Tray | None]] = (),
    learned: Learned = NOTHING_LEARNED,
) -> Change:
    """Puts typed lures in, all or none: each a new stack in the tray beside it, or more `onto` a stack that is there;
    and things without colour, each with its line, beside them. What was `learned` of their words goes with them.

    Without a tray they go into the first; the first lures of a new angler make it. Raises ValidationError.
    """
    pieces = sum(draft.count for draft in drafts)
    words = f"{card_name(owner, drafts[0].card)} is added." if len(drafts) == 1 else f"{pieces} lures are typed in."
    if things:
        more = sum(thing.count for thing, *_ in things)
        words = f"{pieces} lures and {more} other things are typed in." if drafts else f"{more} things are typed in."
        lies = first_tray(owner)
        new = [
            NewThing(thing.thing, thing.count, thing.weight_oz, thing.size_in, tray or lies, line)
            for thing, line, tray in things
        ]
        put = things_put_in(owner, new)
    else:
        put = []
    first = first_tray(owner) if None in trays else None
    where = [tray for tray in (tray or first for tray in trays) if tray]
    change = _put_in(owner, drafts, where, onto, words, put)
    _remember(owner, learned, change)
    return change


def _remember(owner: User, learned: Learned, change: Change) -> None:
    """Remembers what was learned with a change, which it is undone with."""
    kinds = [
        KindWord(owner=owner, text=text[:80], category=category, change=change)
        for text, category in learned.kinds.items()
    ]
    names = [
        Printed(owner=owner, category=category, text=text[:80], card=card, change=change)
        for (category, text), card in learned.names.items() if text
    ]  # fmt: skip
    KindWord.objects.bulk_create(kinds, update_conflicts=True, update_fields=["category", "change"])
    Printed.objects.bulk_create(names, update_conflicts=True, update_fields=["card", "change"])


@one_change
def take_seen(owner: User, picture: Picture, tray: Tray, seen: Sequence[tuple[str, str, int]]) -> Change:
    """Puts in what was seen in a picture, each (category, card, count). Raises ValidationError; all or none."""
    if not seen or not all(count for *_, count in seen):
        raise ValidationError("Each needs a count from 1 to 999.")
    drafts = [Draft(category=category, card=card, count=count) for category, card, count in seen]
    made = _new_stacks(owner, drafts, [tray] * len(drafts), picture)
    after = {one.pk: as_json({field: getattr(one, field) for field in LURE.fields}) for one in made}
    words = f"{sum(draft.count for draft in drafts)} lures are taken from the picture."
    return record(owner, AREA, words, steps(LURE, {}, after))


def _put_in(
    owner: User,
    drafts: Sequence[Draft],
    trays: Sequence[Tray],
    onto: Sequence[int | None],
    words: str,
    beside: Sequence[Step] = (),
) -> Change:
    before = states(LURE, {pk for pk in onto if pk})
    held = {lure.pk: lure for lure in list_lures(owner).filter(pk__in=before)}
    rows = list(zip(drafts, trays, onto, strict=True))
    for draft, _, pk in rows:
        if pk in held:
            held[pk].count = bounded(held[pk].count + draft.count)
            held[pk].typed = lines_joined(held[pk].typed, draft.typed)
    Lure.objects.bulk_update(held.values(), ["count", "typed"], batch_size=500)
    new = [(draft, tray) for draft, tray, pk in rows if pk not in held]
    made = _new_stacks(owner, [draft for draft, _ in new], [tray for _, tray in new])
    after = {one.pk: as_json({field: getattr(one, field) for field in LURE.fields}) for one in made}
    return record(owner, AREA, words, [*beside, *steps(LURE, before, after | states(LURE, held))])


def _new_stacks(
    owner: User, drafts: Sequence[Draft], trays: Sequence[Tray], picture: Picture | None = None
) -> list[Lure]:
    """New stacks at the end of their trays, all at once. Raises ValidationError."""
    if list_lures(owner).count() + len(drafts) > MOST_LURES:
        raise ValidationError(f"That would make more than {MOST_LURES:,} stacks, which is the most a tackle box holds.")
    sold = {(category, card.id) for card in get_palette(owner).cards for category in card.sold_in}
    position = {tray.pk: next_position(tray) for tray in set(trays)}
    lures = []
    for row, (draft, tray) in enumerate(zip(drafts, trays, strict=True), 1):
        if tray.owner_id != owner.pk or draft.wrong or (draft.category, draft.card) not in sold:
            raise ValidationError(f"Row {row} cannot be taken in as it is.")
        lures.append(
            Lure(
                tray=tray, category=draft.category, card=draft.card, name=draft.name, count=draft.count,
                size_in=draft.size_in, weight_oz=draft.weight_oz, depth_ft=draft.depth_ft, sound=draft.sound,
                price=None if draft.price is None else Decimal(f"{draft.price:.2f}"), condition=draft.condition,
                note=draft.note, typed=draft.typed, picture=picture, position=position[tray.pk],
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
        defaults = {"card": card, "change": None}
        Printed.objects.update_or_create(owner=owner, category=category, text=plain, defaults=defaults)


@one_change
def take_back(owner: User, pk: int) -> Change:
    """Takes a change of the tackle box back, and forgets the words that were learned with it. Raises
    ValidationError."""
    change = undo(owner, AREA, pk)
    for model in (Printed, KindWord):
        model.objects.filter(owner=owner, change=change).delete()
    return change


@one_change
def forget_word(owner: User, category: str, text: str) -> None:
    """Forgets what was chosen for a word: for its kind, where no category is told, else for its colour there."""
    if category:
        Printed.objects.filter(owner=owner, category=category, text=text).delete()
    else:
        KindWord.objects.filter(owner=owner, text=text).delete()


@one_change
def keep_heap(owner: User, rows: Sequence[tuple[str, Mapping[str, str]]], waiting: Sequence[str], tray: str) -> None:
    """Keeps the lines that are typed and not taken in, with what was put right in them. Raises ValidationError."""
    if len(waiting) > MOST_WAITING:
        raise ValidationError(f"At most {MOST_WAITING:,} lines at once.")
    held = Heap.objects.filter(owner=owner).first()
    before = [(line, data) for line, data in held.rows] if held else []
    kept = []
    for line, data in rows:  # what was answered since these were read stays answered
        index = next((index for index, (text, _) in enumerate(before) if text == line), None)
        kept.append([line, put_right_on(before.pop(index)[1], data) if index is not None else dict(data)])
    values = {"rows": kept, "waiting": "\n".join(waiting), "tray": tray[:12]}
    if held is None or {name: getattr(held, name) for name in values} != values:
        Heap.objects.update_or_create(owner=owner, defaults=values)


@one_change
def answer_lines(owner: User, answers: Sequence[tuple[int, str, Mapping[str, str]]]) -> int:
    """Keeps what was put right in some lines that are typed and not taken in, each (place, line, fields); returns how
    many of them are not there any more, since they were put in or changed elsewhere."""
    held = Heap.objects.filter(owner=owner).first()
    rows, gone = held.rows if held else [], 0
    for number, line, data in answers:
        if number >= len(rows) or rows[number][0] != line:  # lines were put in before it, or taken away
            number = next((index for index, (text, _) in enumerate(rows) if text == line), -1)
        if number < 0:
            gone += 1
        else:
            rows[number][1] = put_right_on(rows[number][1], data)
    if held and gone < len(answers):
        held.save(update_fields=["rows"])
    return gone


def put_right_on(before: Mapping[str, str], data: Mapping[str, str]) -> dict[str, str]:
    """What was put right in a line before, and what is put right now: of another kind the colour is asked anew."""
    another = data.get("category", before.get("category")) != before.get("category")
    return {name: value for name, value in before.items() if not (another and name == "card")} | dict(data)
