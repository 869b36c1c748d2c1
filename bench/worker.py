"""What a worker holds after many different requests of twenty users."""

import os
import random
import re
import tempfile
from pathlib import Path

from django.conf import settings
from django.db import connection
from django.test import Client

from bench.measure import resident_mb
from web.demo.loader import DEMO_FILE, load_demo

REQUESTS = int(os.environ.get("WAX_REQUESTS", "5000"))
USERS = 20
MOST_MB = 250
CATEGORIES = ("worm", "jerkbait", "casting-jig", "walking-topwater", "swimbait", "shallow-crankbait", "creature")
SCHOOLS = ("ladder", "menu", "sheen", "calendar", "short-list", "spark")


def run(requests: int = REQUESTS) -> bool:
    settings.ALLOWED_HOSTS = ["testserver"]
    connection.creation.create_test_db(verbosity=0)
    clients = [_user(number) for number in range(USERS)]
    before = resident_mb()
    pick = random.Random(7)
    for _ in range(requests):
        _ask(pick.choice(clients), pick)
    after = resident_mb()
    good = after <= MOST_MB
    print(
        f"{'ok  ' if good else 'HEAVY'} a worker after {requests} requests of {USERS} users: {after:.0f} MB, "
        f"{after / before:.2f} times what it held before ({before:.0f} MB; at most {MOST_MB} MB)"
    )
    return good


def _user(number: int) -> Client:
    """The demo's user under another name, whose days are a little other than everybody's."""
    text = re.sub(r"\bwren\b", f"wren{number}", DEMO_FILE.read_text(encoding="utf-8"))
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / DEMO_FILE.name
        path.write_text(text, encoding="utf-8")
        user = load_demo(path)
    user.rare_days = number / 50
    user.save()
    client = Client()
    client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    return client


def _ask(client: Client, pick: random.Random) -> None:
    def settle(what: str, value: str, to: str = "in") -> None:
        entry = {"what": what, "value": value, "category": pick.choice(CATEGORIES), "to": to}
        client.post("/plan/settings/", entry, headers={"HX-Request": "true"})

    what = pick.randrange(9)
    if what == 0:
        settle("school", pick.choice(SCHOOLS), pick.choice(("in", "out")))
    elif what == 1:
        settle("right", str(pick.randrange(0, 101, 5)))
    elif what == 2:
        settle(pick.choice(("first_month", "last_month")), str(pick.randint(1, 12)))
    elif what == 3:
        client.get("/crate/")
    elif what == 4:
        client.get("/buy/")
    elif what == 5:
        client.get(f"/colours/rules/{pick.choice(SCHOOLS)}/read/", {"category": pick.choice(CATEGORIES)})
    elif what == 6:
        see = f"{pick.randint(4, 200)} in"
        client.get("/colours/ask/", {"category": pick.choice(CATEGORIES), "see": see, "light": "broken"})
    else:
        client.get("/plan/", {"category": pick.choice(CATEGORIES)})
