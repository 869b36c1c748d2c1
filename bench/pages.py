"""The demo's pages as a server answers them, against a bare view with one indexed query."""

import subprocess
import sys

from django.conf import settings
from django.db import connection
from django.test import Client
from django.utils import timezone

from bench.measure import best_of, best_of_both, report
from web.day.reads import next_trip
from web.demo.loader import load_demo

COLD = """
import sys, time, django; django.setup()
from django.db import connection
connection.settings_dict['NAME'] = sys.argv[1]
from web.accounts.models import User
from web.plans.reads import answers, basis_of
start = time.perf_counter()
basis = basis_of(User.objects.get(username="wren"))
answers(basis)
first = time.perf_counter()
answers(basis_of(basis.plan.owner))
print(first - start, time.perf_counter() - first)
"""


def run() -> bool:
    settings.ALLOWED_HOSTS = ["testserver"]
    settings.ROOT_URLCONF = "bench.urls"
    connection.creation.create_test_db(verbosity=0)
    client = Client()
    owner = load_demo()
    client.force_login(owner, backend="django.contrib.auth.backends.ModelBackend")
    trip = next_trip(owner, timezone.localdate())
    assert trip is not None
    bare = best_of(30, lambda: client.get("/bare/"))
    good = _computed(bare)
    for what, address, most, limit in (
        ("Plan", "/plan/", 3, 0.1),
        ("Crate", "/crate/", 3, 0.2),
        ("Buy", "/buy/", 3, 0.2),
        ("The day", f"/day/{trip.pk}/", 3, 0.2),
        ("On the water", f"/day/{trip.pk}/water/", 3, 0.2),
    ):
        page, bare = best_of_both(30, lambda a=address: _get(client, a), lambda: client.get("/bare/"))
        good &= report(what, page, "a bare view", bare, most, limit)
    card = iter(["green-pumpkin-black", "watermelon-red", "red-bug", "dark-purple-green", "green-pumpkin-purple"])
    change = best_of(4, lambda: _ban(client, next(card)))
    return report("a colour dropped on the board", change, "a bare view", bare, 40, 0.1) and good


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
