"""What each field of a water's file may hold, with its bounds."""

from tackle.base.typed import FLAG, ListOf, Number, OptionalKind, Record, Table, Text, ValueKind, Whole, Word
from tackle.base.vocabulary import CATEGORIES, Cover, Forage, Stain, ids
from tackle.records.numbers import AT_LEAST, AT_MOST
from tackle.situations.clarity import MAX_VISIBILITY_IN
from tackle.situations.sky import RAINS, SKIES, WINDS
from tackle.situations.starting import kinds
from tackle.situations.sun import HOURS
from tackle.situations.water import FOOD_WEIGHT
from web.domain.waters.models import BOTTOMS, Reading, Water

_SHARES = ListOf(Number(0, 1000), 6, 6)


class _Sky(ValueKind[list[float] | None]):
    allowed = "six shares: sun, broken, cloud; calm, ripple, chop"

    def read(self, value: object, field: str) -> list[float] | None:
        if value is None:
            return None
        shares = _SHARES.read(value, field)
        if not sum(shares[:3]) or not sum(shares[3:]):
            raise self.refused(value, field)
        return shares


_MONTHS = Word(tuple(map(str, range(1, 13))))
_MONTH = Whole(1, 12)
HALF_LIFE = Number(0.5, 100)
_FAR = Number(-1000, 1000)
TIDE = Record(
    {
        "constants": Table(Text(8), ListOf(_FAR, 2, 2)),
        "waves": Table(Word(tuple(map(str, range(1900, 2200)))), ListOf(ListOf(_FAR, 3, 3), 60)),
    }
)
_INCHES = Number(1, MAX_VISIBILITY_IN)
WATER = Record(
    {
        "name": Text(80),
        "kind": Word(kinds()),
        "salinity": Word(Water.Salinity.values),
        "latitude": Number(-66, 66),
        "longitude": OptionalKind(Number(-180, 180)),
        "time_zone": OptionalKind(Text(40, 0), ""),
        "dryness": Number(0, 1),
        "norm_in": OptionalKind(Number(1, MAX_VISIBILITY_IN)),
        "relative": FLAG,
        "depth_ft": OptionalKind(Number(0, 500)),
        "cover": Table(Word(ids(Cover)), Number(0, 100)),
        "bottom": Table(Word(BOTTOMS), Number(0, 100)),
        "target": Text(80, 0),
        "observations": Table(_MONTHS, Table(Word((*SKIES, *WINDS, *RAINS)), Whole(0, 100_000))),
        "half_life_y": OptionalKind(HALF_LIFE),
        "tide": OptionalKind(TIDE),
        "forbids_categories": ListOf(Word(CATEGORIES), len(CATEGORIES), once=True),
        "forbids_trebles": FLAG,
        "forbids_barbs": FLAG,
        "forbids_lead": FLAG,
        "forbids_night": FLAG,
        "closed_months": ListOf(_MONTH, 12, once=True),
        "rules_note": Text(300, 0),
    }
)
MONTH = Record(
    {
        "month": _MONTH,
        "low_in": _INCHES,
        "usual_in": _INCHES,
        "high_in": _INCHES,
        "stain": Word(ids(Stain)),
        "temp_f": Number(28, 110),
        "food": Table(Word(ids(Forage)), Word(FOOD_WEIGHT)),
        "days": Number(0, 31),
        "hours": ListOf(Word(HOURS), len(HOURS), once=True),
        "sky": _Sky(),
        "guess": FLAG,
    }
)
READING = Record(
    {
        "date": Text(10, 10),
        "visibility_in": Number(0.1, MAX_VISIBILITY_IN),
        "stain": Word(("", *ids(Stain))),
        "spot": Text(60, 0),
        "note": Text(200, 0),
        "source": Word(Reading.Source.values),
        "sky": OptionalKind(Word(("", *SKIES)), ""),
        "wind": OptionalKind(Word(("", *WINDS)), ""),
        "rain_in": OptionalKind(Number(0, 60)),
        "off_by": OptionalKind(Number(0, 3), 0.0),
        "bound": OptionalKind(Word(("", AT_LEAST, AT_MOST)), ""),
    }
)
SIGHTING = Record({"date": Text(10, 10), "food": Word(ids(Forage)), "spot": Text(60, 0)})
