"""Open records of a water, understood outside the request."""

from collections.abc import Mapping
from typing import Any

from django.core.exceptions import ValidationError
from django.urls import reverse
from django.utils import timezone

from tackle.base.errors import InvalidInput
from tackle.records.harmonics import constants_in, fitted, tide_waves
from web.common.serving.child import TEXT, in_child
from web.common.work.heavy import Outcome, Tell, heavy
from web.common.work.models import Job
from web.common.work.pieces import open_file
from web.common.work.services import keep_found
from web.domain.waters.models import Water
from web.domain.waters.selectors import get_water, list_turbidity_pairs, settled_by_shape
from web.domain.waters.services import set_tide
from web.domain.waters.understood import Asked, understood

TIDE_YEARS = 6  # ahead, for which a tide's waves are worked out


@heavy
def read_water_record(job: Job, tell: Tell) -> Outcome:
    """What a record says of a water, kept to be looked at before it counts."""
    pk, today = job.asked["water"], timezone.localdate()
    water = get_water(job.owner, pk)
    tell("Reading the record", 0, 0)
    with open_file(job) as file:
        content = file.read()
    asked = Asked(
        job.asked.get("station") or None, today, tuple(list_turbidity_pairs(job.owner, pk)), water.solar_place,
        job.asked.get("settled"), settled_by_shape(job.owner), water.time_zone,
    )  # fmt: skip
    data, levels = in_child(TEXT, understood, content, asked)
    found = {"name": job.name, "water": pk, **data}
    tell("Looking for a tide", 0, 0)
    fit = fitted(levels, water.position) if levels and water.position else None
    found["tide_asks_place"] = bool(levels) and water.position is None
    found["tide"] = _tide(fit.constants, water) if fit else None
    found["tide_share"] = min(round(100 * fit.share), 99) if fit else 0
    keep_found(job, found, with_file=True)
    return Outcome(to=reverse("water-record-look", args=[pk, job.pk]))


@heavy
def read_tide(job: Job, tell: Tell) -> Outcome:
    """The waves of a tide whose constants were typed."""
    water, owner = get_water(job.owner, job.asked["water"]), job.owner
    tell("Working out the tide", 0, 0)
    try:
        tide = _tide(constants_in(job.asked["text"], owner.units), water)
    except InvalidInput as refused:
        raise ValidationError(f"{refused.field}: {refused.wrong}: write it like {refused.allowed}.") from refused
    change = set_tide(owner, water.pk, tide)
    return Outcome(to=f"{reverse('water', args=[water.pk])}?changed={change.pk}")


def _tide(constants: Mapping[str, tuple[float, float]], water: Water) -> dict[str, Any]:
    this = timezone.localdate().year
    waves = tide_waves(constants, water.latitude, range(this - 1, this + TIDE_YEARS))
    return {
        "constants": {name: [round(ft, 4), round(lag, 1)] for name, (ft, lag) in constants.items()},
        "waves": {
            str(year): [[one.per_hour, round(one.ft, 5), round(one.phase_deg, 2)] for one in data]
            for year, data in waves.items()
        },
    }
