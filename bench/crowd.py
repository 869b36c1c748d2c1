"""Many in one place: the demo's pages before and after 1,000 others with 300,000 lures came; then 10,000 of one."""

import os

from django.conf import settings
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext

from bench.measure import best_of, best_of_both
from tests.owner import renewed
from web.common.accounts.models import User
from web.demo.loader import load_demo
from web.domain.crate.models import Lure, Place, Tray

OTHERS, LURES_EACH, LURES_OF_ONE = int(os.environ.get("WAX_OTHERS", "1000")), 300, 10_000
PAGES = ("/waters/", "/colours/", "/plan/", "/crate/", "/buy/", "/day/", "/teach/", "/account/")
MOST_TIMES, MOST_S, MOST_QUERIES = 1.5, 3.0, 60
BATCH = 5_000


def run() -> bool:
    settings.ALLOWED_HOSTS = ["testserver"]
    connection.creation.create_test_db(verbosity=0)
    wren = load_demo()
    client = Client()
    client.force_login(wren, backend="django.contrib.auth.backends.ModelBackend")
    alone = {page: _time(client, wren, page) for page in PAGES}
    _crowd(wren)
    good = True
    for page in PAGES:
        among = _time(client, wren, page)
        fits = among <= MOST_TIMES * alone[page]
        good &= fits
        print(
            f"{'ok  ' if fits else 'SLOW'} {page} among {OTHERS} others with {Lure.objects.count():,} lures: "
            f"{among:.1f} sums of 50,000 squares, {among / alone[page]:.2f} times alone (at most {MOST_TIMES})"
        )
    _add(wren, list(Lure.objects.filter(tray__owner=wren)), LURES_OF_ONE)
    for page in PAGES:
        renewed(wren)
        with CaptureQueriesContext(connection) as asked:
            taken = best_of(1, lambda p=page: client.get(p, follow=True))
        fits = taken <= MOST_S and len(asked) <= MOST_QUERIES
        good &= fits
        print(
            f"{'ok  ' if fits else 'SLOW'} {page} with {LURES_OF_ONE:,} lures of one's own, first look: {taken:.2f} s "
            f"(at most {MOST_S:g}), {len(asked)} queries (at most {MOST_QUERIES})"
        )
    return good


def _time(client: Client, owner, page: str) -> float:
    """A page whose parts are drawn anew (what is kept by content stays), in sums of the same moment: the machine may be
    another a minute later."""

    def look() -> None:
        renewed(owner)
        assert client.get(page, follow=True).status_code == 200, page

    look()
    taken, unit = best_of_both(8, look, lambda: sum(number * number for number in range(50_000)))
    return taken / unit


def _crowd(wren) -> None:
    pattern = list(Lure.objects.filter(tray__owner=wren))
    User.objects.bulk_create(User(username=f"angler{n}", email=f"angler{n}@example.org") for n in range(OTHERS))
    people = list(User.objects.filter(username__startswith="angler"))
    Place.objects.bulk_create(Place(owner=one, kind="boat", name="Boat") for one in people)
    places = list(Place.objects.filter(owner__in=people))
    Tray.objects.bulk_create(
        Tray(owner=place.owner, place=place, letter="A", name="Tray", label="teal", rows=6, columns=6)
        for place in places
    )
    for tray in Tray.objects.filter(owner__in=people).iterator():
        _add_to(tray, pattern, LURES_EACH)


def _add(owner, pattern, count: int) -> None:
    _add_to(Tray.objects.filter(owner=owner).first(), pattern, count)


def _add_to(tray, pattern, count: int) -> None:
    Lure.objects.bulk_create(
        (
            Lure(
                tray=tray, category=one.category, card=one.card, count=1 + place % 4, size_in=2 + place % 60 / 10,
                position=100 + place,
            )
            for place, one in ((place, pattern[place % len(pattern)]) for place in range(count))
        ),
        batch_size=BATCH,
    )  # fmt: skip
