"""Every change to an angler's own rules: checked, and written in one transaction."""

from typing import Any

from django.core.exceptions import ValidationError
from django.utils.text import slugify

from tackle.base.errors import DataError, InvalidInput
from tackle.base.strict import read_toml_text
from tackle.base.vocabulary import Grade
from tackle.colours.colour import Colour
from tackle.schools.own_rule import conditions_like
from tackle.schools.rulebook import house_rulebooks, read_calls, read_rulebook, to_entry, write_rulebook
from tackle.situations.situation import Situation
from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.common.serving.child import TEXT, in_child
from web.domain.rulebooks.models import OwnSchool, Rule
from web.domain.rulebooks.selectors import OWN, get_rule, list_own_schools, list_rulebooks, list_rules, readable_entries

MAX_FILE_BYTES = 400_000
MAX_RULES = 2_000


@one_change
def make_rule(
    owner: User, school: str, situation: Situation, card: Colour, grade: str, why: str, source: str = "made on Ask"
) -> Rule:
    """A rule from a situation: in water like this, with this category, this colour. Raises ValidationError."""
    if school not in list_rulebooks(owner):
        raise ValidationError(f"{school} is not a rulebook.")
    if grade not in list(Grade):
        raise ValidationError(f"{grade} is not a grade.")
    taken = set(list_rules(owner).filter(school=school).values_list("call", flat=True))
    stem = f"mine-{situation.category}-{card.tone}"
    call = next(one for n in range(1, len(taken) + 2) if (one := f"{stem}-{n}") not in taken)
    traits = card.traits()
    entry = {
        "id": call,
        "for": situation.category,
        "when": conditions_like(situation),
        "want": {name: traits[name] for name in ("tone", "opacity", "finish", "flake")},
        "grade": grade,
        "why": why.strip() or "My own experience on water like this.",
    }
    _check(entry)
    return Rule.objects.create(owner=owner, school=school, call=call, entry=entry, source=source)


@one_change
def switch_off(owner: User, school: str, written: str) -> Rule:
    """Lays a rule on a school that its call of this id is not to be heard. Raises ValidationError."""
    return _in_its_place(owner, school, {**_entry(owner, school, written), "off": True})


@one_change
def change_call(
    owner: User,
    school: str,
    written: str,
    grade: str,
    sight: dict[str, float],
    tones: list[str],
    why: str,
    beside: bool,
) -> Rule:
    """Lays a call as the angler would have it on a school: in the place of its own, or beside it and before it.

    `sight`: the edges of its visibility in inches, empty for any. Raises ValidationError.
    """
    entry = _entry(owner, school, written)
    when = {name: value for name, value in entry.get("when", {}).items() if name != "visibility_in"}
    entry |= {"grade": grade, "why": why.strip()}
    if tones:
        entry["want"] = {**entry["want"], "tone": tones}
    if sight:
        when["visibility_in"] = sight
    if when:
        entry["when"] = when
    else:
        entry.pop("when", None)
    if beside:
        taken = set(list_rules(owner).filter(school=school).values_list("call", flat=True))
        entry["id"] = next(one for n in range(1, len(taken) + 2) if (one := f"mine-{written}-{n}"[:80]) not in taken)
    return _in_its_place(owner, school, entry)


def _entry(owner: User, school: str, written: str) -> dict[str, Any]:
    book = list_rulebooks(owner).get(school)
    calls = [call for call in book.calls if call.written == written] if book else []
    if not calls:
        raise ValidationError(f"{written} is no rule of that rulebook any more.")
    return to_entry(calls)


def _in_its_place(owner: User, school: str, entry: dict[str, Any]) -> Rule:
    _check(entry)
    if list_rules(owner).count() >= MAX_RULES:
        raise ValidationError(f"That would make more than {MAX_RULES:,} rules.")
    changed, _ = Rule.objects.update_or_create(
        owner=owner,
        school=school,
        call=entry["id"],
        defaults={"entry": entry, "source": "read and changed", "on": True},
    )
    return changed


@one_change
def switch_rule(owner: User, pk: int, on: bool) -> Rule:
    """Switches a rule on, or off."""
    rule = get_rule(owner, pk)
    rule.on = on
    rule.save(update_fields=["on"])
    return rule


@one_change
def delete_rule(owner: User, pk: int) -> str:
    rule = get_rule(owner, pk)
    rule.delete()
    list_own_schools(owner).filter(school=rule.school).exclude(
        school__in=list_rules(owner).values_list("school", flat=True)
    ).delete()
    return f"{rule.call} is deleted."


def import_rulebook(owner: User, name: str, content: bytes) -> int:
    """Takes in a rulebook file: its calls go on top of the school it names, or make a school of their own.

    Returns how many rules came in; one with an id that is there already replaces it. Raises ValidationError.
    """
    if len(content) > MAX_FILE_BYTES:
        raise ValidationError(f"{name} has {len(content):,} bytes; a rulebook has at most {MAX_FILE_BYTES:,}.")
    try:
        raw = in_child(TEXT, read_toml_text, content, name)
    except InvalidInput as error:
        raise ValidationError(f"{error}.") from error
    return _put_rules_in(owner, name, raw)


@one_change
def _put_rules_in(owner: User, name: str, raw: dict[str, Any]) -> int:
    try:
        book = read_rulebook(raw, name)
        # On top of what is there already: two files may each be right, and not go together.
        ids = {entry["id"] for entry in raw["call"]}
        there = [entry for entry in readable_entries(owner, book.id) if entry["id"] not in ids]
        read_calls([*there, *raw["call"]], name)
    except DataError as error:
        raise ValidationError(f"{error}.") from error
    if list_rules(owner).count() + len(raw["call"]) > MAX_RULES:
        raise ValidationError(f"That would make more than {MAX_RULES:,} rules.")
    if slugify(book.id) != book.id or len(book.id) > 40:
        raise ValidationError(f"{name}: rulebook: id: {book.id!r} is not a short lower-case word.")
    if book.id not in house_rulebooks():
        OwnSchool.objects.update_or_create(
            owner=owner,
            school=book.id,
            defaults={"name": book.name[:60], "question": book.question[:200], "short": book.short[:300]},
        )
    for entry in raw["call"]:
        Rule.objects.update_or_create(
            owner=owner, school=book.id, call=entry["id"], defaults={"entry": entry, "source": name[:80]}
        )
    return len(raw["call"])


def export_rulebook(owner: User, school: str) -> str:
    """The owner's rules on one school, as a rulebook file."""
    book = list_rulebooks(owner).get(school)
    entries = list(list_rules(owner).filter(school=school).values_list("entry", flat=True))
    if book is None or not entries:
        raise ValidationError("There are no rules of your own on that rulebook.")
    head = {field: getattr(book, field) for field in ("id", "name", "question", "short", "order")}
    return write_rulebook(head, entries)


def _check(entry: dict[str, Any]) -> None:
    try:
        read_calls([entry], OWN)
    except DataError as error:
        raise ValidationError(f"{error}.") from error
