"""A crate of two thousand lures: the audit, the page, and five thousand rows taken in from a file."""

import random
import tempfile
from pathlib import Path

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client

from bench.measure import best_of, best_of_both, report
from tackle.check.audit import audit
from tackle.check.reach import Planned
from tackle.colours.palette import house_palette
from tests.owner import renewed
from web.demo.loader import DEMO_FILE, load_demo
from web.domain.crate.models import ImportDraft, Lure, Tray
from web.domain.crate.selectors import list_stock
from web.domain.plans.selectors import answers, get_basis

LURES, ROWS = 2000, 5000


def run() -> bool:
    settings.ALLOWED_HOSTS = ["testserver"]
    settings.ROOT_URLCONF = "bench.urls"
    connection.creation.create_test_db(verbosity=0)
    wren = load_demo()
    small = _signed_in(wren)
    owner = _another_demo()
    client = _signed_in(owner)
    _fill(owner)
    good = _audited(owner)
    # As after a change each time: what is drawn already is looked up, however much it shows.
    page, demo = best_of_both(
        8, lambda: (renewed(owner), client.get("/crate/")), lambda: (renewed(wren), small.get("/crate/"))
    )
    good &= report(f"the crate page with {LURES} lures", page, "the demo's", demo, 3, 1.0)
    return _imported(client, demo) and good


def _signed_in(owner) -> Client:
    client = Client()
    client.force_login(owner, backend="django.contrib.auth.backends.ModelBackend")
    return client


def _another_demo():
    """A second user with the demo's data, whose crate is then filled."""
    with tempfile.TemporaryDirectory() as place:
        path = Path(place) / "demo.toml"
        path.write_text(DEMO_FILE.read_text().replace("wren", "full"))
        return load_demo(path)


def _fill(owner) -> None:
    pick = random.Random(2)
    sold = [(category, card.id) for card in house_palette().cards for category in card.sold_in]
    trays = list(Tray.objects.filter(owner=owner))
    lures = []
    for number in range(LURES):
        category, card = pick.choice(sold)
        size = pick.choice([None, 3.0, 4.0])
        lures.append(
            Lure(
                tray=pick.choice(trays),
                category=category,
                card=card,
                count=pick.randint(1, 5),
                size_in=size,
                position=number,
            )
        )
    Lure.objects.bulk_create(lures, batch_size=500)


def _audited(owner) -> bool:
    basis = get_basis(owner)
    lures = [one.lure for one in list_stock(owner, basis.palette)]
    planned = [Planned(each.request, each.answer) for each in answers(basis)]
    bare = best_of(3, lambda: list_stock(renewed(owner), basis.palette))
    within = iter((6.01, 6.02, 6.03))  # another each time: an audit asked for twice is kept
    audited = best_of(3, lambda: audit(lures, planned, basis.palette, next(within)))
    return report(f"the audit of {len(lures)} lures", audited, "reading them", bare, 60, 1.0)


def _imported(client: Client, demo: float) -> bool:
    pick = random.Random(3)
    sold = [(category, card.name) for card in house_palette().cards for category in card.sold_in]
    rows = [(pick.randint(1, 9), *pick.choice(sold), pick.choice(["", "4 in"])) for _ in range(ROWS)]
    table = "count,category,colour,size\n" + "\n".join(",".join(f'"{cell}"' for cell in row) for row in rows)

    def read() -> None:
        file = SimpleUploadedFile("a.csv", table.encode())
        client.post("/crate/import/", {"file": file, "tray": Tray.objects.latest("pk").pk})

    def shown() -> None:
        assert client.get(f"/crate/import/{ImportDraft.objects.get().pk}/").status_code == 200

    def taken() -> None:
        assert client.post(f"/crate/import/{ImportDraft.objects.get().pk}/accept/").status_code == 302

    good = True
    for step, words, most_s in ((read, "read", 3.0), (shown, "shown", 1.0), (taken, "taken in", 3.0)):
        good &= report(f"{ROWS} rows {words}", best_of(1, step), "the demo's crate page", demo, 500, most_s)
    return good
