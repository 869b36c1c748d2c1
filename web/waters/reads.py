"""Reading waters, always from their owner."""

from dataclasses import dataclass

from django.db.models import Prefetch, QuerySet, Sum
from django.shortcuts import get_object_or_404

from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.situations.situation import Situation
from tackle.vocabulary import Forage, Light
from web.accounts.models import User
from web.waters.models import ExpectedDays, Water


def waters_of(owner: User) -> QuerySet[Water]:
    """The owner's waters with the days of each (`.total`), by name."""
    return Water.objects.filter(owner=owner).annotate(total=Sum("expected__days", default=0.0))


def water_of(owner: User, pk: int) -> Water:
    return get_object_or_404(waters_of(owner).prefetch_related("expected"), pk=pk)


@dataclass(frozen=True, slots=True)
class Expected:
    """One kind of day to expect: a water's clarity band and light, and one food of those found there."""

    water: Water
    band: str
    light: Light
    food: Forage
    days: float

    def situation(self, category: str) -> Situation:
        return Situation(
            category=category,
            visibility_in=HOUSE_LADDER.typical_in(self.band),
            light=self.light,
            norm_in=self.water.norm_in,
            forage=(self.food,),
        )


def days_to_expect(waters: QuerySet[Water]) -> list[Expected]:
    """The days of some waters, clearest and brightest first, each cell's shared evenly among the water's foods."""
    cells = Prefetch("expected", ExpectedDays.objects.filter(days__gt=0))
    found = [
        Expected(water, cell.band, Light(cell.light), Forage(food), cell.days / len(foods))
        for water in waters.prefetch_related(cells)
        for foods in [water.food or [Forage.UNKNOWN]]
        for cell in water.expected.all()
        for food in foods
    ]
    lights = list(Light)
    return sorted(found, key=lambda e: (-BANDS.index(e.band), lights.index(e.light)))
