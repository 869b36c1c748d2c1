"""The pages as a server answers them, of the demo and of many kinds and lures, against a bare view with one indexed
query."""

import random
import subprocess
import sys
from itertools import count, cycle

from django.conf import settings
from django.db import connection
from django.test import Client
from django.utils import timezone

from bench.measure import best_of, best_of_both, report
from tackle.base.vocabulary import CATEGORIES
from tests.owner import renewed
from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.demo.loader import load_demo
from web.domain.colours.selectors import get_palette
from web.domain.crate.models import Lure, Tray
from web.domain.plans.models import Plan
from web.domain.plans.selectors import answers, get_basis
from web.domain.trips.selectors import next_trip

COLD = """
import sys, time, django; django.setup()
from django.db import connection
connection.settings_dict['NAME'] = sys.argv[1]
from web.common.accounts.models import User
from web.domain.plans.selectors import answers, get_basis
start = time.perf_counter()
basis = get_basis(User.objects.get(username="wren"))
answers(basis)
first = time.perf_counter()
answers(get_basis(basis.plan.owner))
print(first - start, time.perf_counter() - first)
"""


# At most so many times a bare view, warm; and after a change twice what it took when each part of a page was kept.
WARM = 1.6
AFTER = {"demo": {"ban": 21.4, "Crate": 16.0, "Buy": 11.4}, "large": {"ban": 34.0, "Crate": 60.0, "Buy": 119.0}}
CARDS = ("green-pumpkin-black", "watermelon-red", "red-bug", "dark-purple-green", "green-pumpkin-purple")
PAGES = (("Plan", "/plan/"), ("Crate", "/crate/"), ("Buy", "/buy/"))
MANY_LURES, MANY_KINDS = 600, 23


def run() -> bool:
    settings.ALLOWED_HOSTS = ["testserver"]
    settings.ROOT_URLCONF = "bench.urls"
    connection.creation.create_test_db(verbosity=0)
    client = Client()
    owner = load_demo()
    client.force_login(owner, backend="django.contrib.auth.backends.ModelBackend")
    trip = next_trip(owner, timezone.now())
    assert trip is not None
    good = _computed(best_of(30, lambda: client.get("/bare/")))
    for what, address in (("The day", f"/day/{trip.pk}/"), ("On the water", f"/day/{trip.pk}/water/")):
        page, bare = best_of_both(30, lambda a=address: _get(client, a), lambda: client.get("/bare/"))
        good &= report(what, page, "a bare view", bare, 3, 0.2)
    good &= _looked_at_and_changed("demo", client, owner)
    _grow(owner)
    answers(get_basis(renewed(owner)))
    return _looked_at_and_changed("large", client, owner) and good


def _looked_at_and_changed(size: str, client: Client, owner: User) -> bool:
    """The pages warm, and each of them after a change."""
    good = True
    for what, address in PAGES:
        page, bare = best_of_both(30, lambda a=address: _get(client, a), lambda: client.get("/bare/"))
        good &= report(f"{what}, {size}", page, "a bare view", bare, WARM, 0.2)
    keys = list(Lure.objects.filter(tray__owner=owner, category="worm").values_list("pk", flat=True))
    number = count(3)

    def counted(address: str) -> None:
        many = next(number)
        _count(owner, keys[many % len(keys)], many)
        _get(client, address)

    for what, address in PAGES[1:]:
        page, bare = best_of_both(8, lambda a=address: counted(a), lambda: client.get("/bare/"))
        good &= report(f"{what} after a count, {size}", page, "a bare view", bare, AFTER[size][what], 0.5)
    card = iter(CARDS)
    change, bare = best_of_both(4, lambda: _ban(client, next(card)), lambda: client.get("/bare/"))
    good &= report(f"a colour dropped on the board, {size}", change, "a bare view", bare, AFTER[size]["ban"], 0.5)
    client.post("/plan/settle/worm/", {"what": "free"}, headers={"HX-Request": "true"})
    return good


@one_change
def _count(owner: User, lure: int, many: int) -> None:
    Lure.objects.filter(pk=lure).update(count=1 + many % 9)


def _grow(owner: User) -> None:
    """Many kinds planned, and many lures of them owned."""
    kinds, palette = list(CATEGORIES)[:MANY_KINDS], get_palette(owner)
    trays = list(Tray.objects.filter(owner=owner))
    there = Lure.objects.filter(tray__owner=owner).count()
    pick = random.Random(3)
    Lure.objects.bulk_create(
        Lure(
            tray=trays[place % len(trays)], category=kind, card=pick.choice(palette.sold_in(kind)).id,
            count=1 + place % 4, size_in=2 + place % 7, position=100 + place,
        )
        for place, kind in zip(range(MANY_LURES - there), cycle(kinds))
    )  # fmt: skip
    Plan.objects.filter(owner=owner).update(categories=kinds)


def _computed(bare: float) -> bool:
    """The whole plan in a process that has computed nothing yet, and again in the same."""
    told = subprocess.run(
        [sys.executable, "-c", COLD, connection.settings_dict["NAME"]], check=True, capture_output=True, text=True
    )
    cold, warm = map(float, told.stdout.split())
    good = report("all categories of the demo's plan, cold", cold, "a bare view", bare, 500, 1.0)
    return report("the same again, warm", warm, "a bare view", bare, 100, 0.4) and good


def _get(client: Client, address: str) -> None:
    assert client.get(address).status_code == 200


def _ban(client: Client, card: str) -> None:
    answer = client.post("/plan/settle/worm/", {"what": "ban", "value": card}, headers={"HX-Request": "true"})
    assert answer.status_code == 200
