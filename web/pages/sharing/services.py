"""Links made and ended, and copies taken of what others show."""

import hashlib
import json
import secrets
from typing import Any, Final

from django.core.exceptions import ValidationError

from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.domain.plans.kept_plans import list_kept
from web.domain.plans.services import keep_plan
from web.domain.rulebooks.services import export_rulebook, import_rulebook
from web.domain.trips.selectors import list_trips
from web.domain.waters.exchange import import_water, water_json
from web.domain.waters.selectors import list_whole_waters
from web.pages.sharing.models import Follow, Share

MOST_SHARES: Final = 100
_ROUGH_DEG: Final = 5  # without its place a water keeps the season and the sun it has, and no more


@one_change
def make_share(owner: User, what: str, key: str, readings: bool = False, place: bool = False) -> Share:
    """A link to a kept plan, a water or a trip by its number, or a rulebook by its school. Raises ValidationError."""
    if owner.shares.count() >= MOST_SHARES:
        raise ValidationError(f"There are {MOST_SHARES} links already: end one first.")
    share = Share(owner=owner, key=secrets.token_urlsafe(18), what=what, readings=readings, place=place)
    number = int(key) if key.isdecimal() and len(key) < 19 else 0
    if what == Share.What.PLAN:
        share.plan = list_kept(owner).filter(pk=number).first()
    elif what == Share.What.WATER:
        share.water = list_whole_waters(owner).filter(pk=number).first()
    elif what == Share.What.DAY:
        share.trip = list_trips(owner).filter(pk=number).first()
    elif what == Share.What.RULES:
        export_rulebook(owner, key)  # raises where there is nothing to show
        share.school = key
    if not (share.plan or share.water or share.trip or share.school):
        raise ValidationError("There is no such thing of yours to show.")
    share.save()
    return share


@one_change
def end_share(owner: User, pk: int) -> None:
    """Ends a link: whoever has it sees nothing any more. What was copied stays with who has it."""
    if not Share.objects.filter(owner=owner, pk=pk).delete()[0]:
        raise ValidationError("That link is removed already.")


@one_change
def copy(owner: User, share: Share) -> str:
    """Takes a copy of what is shown; says what came of it. A rulebook is followed from then on. Raises
    ValidationError."""
    if share.what == Share.What.PLAN and share.plan:
        kept = keep_plan(owner, f"{share.plan.name}, of {share.owner.username}"[:80], share.plan.content)
        return f"“{kept.name}” is kept."
    if share.what == Share.What.WATER:
        return f"{import_water(owner, json.dumps(water_shown(share)).encode()).name} is one of your waters now."
    if share.what == Share.What.RULES:
        if share.owner_id == owner.pk:
            raise ValidationError("These are your own rules.")
        text = export_rulebook(share.owner, share.school)
        count = import_rulebook(owner, f"{share.school}, of {share.owner.username}", text.encode())
        Follow.objects.update_or_create(owner=owner, share=share, defaults={"mark": text_version(text)})
        return f"{count} rules are in."
    raise ValidationError("A day's sheet is for reading: copy the water or the plan instead.")


def water_shown(share: Share) -> dict[str, Any]:
    """A water as its link shows it: without its readings, and without its place, unless the link says so."""
    assert share.water is not None
    water = list_whole_waters(share.owner).get(pk=share.water.pk)
    data: dict[str, Any] = json.loads(water_json(water))
    if not share.readings:
        data["readings"] = []
    if not share.place:
        latitude = round(data["water"]["latitude"] / _ROUGH_DEG) * _ROUGH_DEG
        data["water"] |= {"latitude": float(latitude), "longitude": None}
        for reading in data["readings"]:
            reading |= {"spot": "", "note": ""}  # either may name the place
    return data


def newer(owner: User) -> list[Follow]:
    """The rulebooks that are followed and have changed since they were taken."""
    found = []
    for follow in Follow.objects.filter(owner=owner).select_related("share__owner"):
        try:
            text = export_rulebook(follow.share.owner, follow.share.school)
        except ValidationError:
            continue
        if text_version(text) != follow.mark:
            found.append(follow)
    return found


def text_version(text: str) -> str:
    """Tells one version of a text from another."""
    return hashlib.sha256(text.encode()).hexdigest()[:16]
