"""Every address, every method, for somebody else: nothing of another's is shown or changed. And whatever is sent,
nothing breaks."""

import os
import random
import re

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import get_resolver

from tests.owner import table_of
from tests.web.test_archive import picture
from web.common.work.services import begin as new_job
from web.domain.crate.models import ImportDraft, Lure, Thing, Tray
from web.domain.crate.services import keep_picture
from web.domain.history.models import Change
from web.pages.api.services import make_token
from web.pages.sharing.services import make_share

pytestmark = pytest.mark.django_db
SECRET = "wren-s-own-secret-hole"
REQUESTS = int(os.environ.get("WAX_FUZZ", "250"))  # 3,000 and more by hand: WAX_FUZZ=3000 ./wax test -k whatever
# What the number in an address is the key of, by the address's name; an address that is new has to be told here.
KEYS = {
    "token": "token-end",
    "water": "water water-edit water-rules water-month water-month-form water-note water-meter reading-delete "
    "water-record water-record-look water-record-take water-record-settle water-record-effect water-history "
    "sighting-delete water-forecast water-rare water-copy water-file "
    "water-export water-delete water-tide water-place water-weekly water-gauge water-half-life "
    "water-year-csv teach-depth-for "
    "teach-depth-right",
    "water_change": "water-undo",
    "rule": "rule-switch rule-delete",
    "kept": "plan-kept kept-delete kept-again kept-check kept-take-up",
    "draft": "import-draft import-accept",
    "picture": "picture-grid picture-read picture-take picture-all crate-jpeg",
    "tray": "tray-edit tray-delete",
    "lure": "lure-edit lure-delete lure-move lure-split lure-merge",
    "thing": "thing",
    "change": "crate-undo",
    "share": "share-end",
    "trip": "trip trip-edit trip-by-hand trip-packed trip-forecast trip-light trip-delete trip-water trip-taps "
    "trip-meter trip-repack trip-log trip-postpone trip-back log-move log-lines log-turn log-counts trip-calendar "
    "trip-sheet",
    "job": "work work-again work-file",
}
OF = {name: what for what, names in KEYS.items() for name in names.split()}


def routes(resolver=None, before="/"):
    for entry in (resolver or get_resolver()).url_patterns:
        route = before + str(entry.pattern)
        if hasattr(entry, "url_patterns"):
            yield from routes(entry, route)
        elif "/api/" not in route:  # its door has tests of its own
            yield route, entry.name


@pytest.fixture
def wren_s(signed_in, wren):
    """One of everything of the demo's angler, with the keys by what they are of."""
    tarn = wren.waters.get(name="Tarn Hollow")
    signed_in.post("/plan/keep/", {"name": SECRET})
    signed_in.post(f"/waters/{tarn.pk}/note/", {"line": f"31 in {SECRET}"})
    file = SimpleUploadedFile("a.csv", f"category,colour,count,name\nworm,black,2,{SECRET}\n".encode())
    signed_in.post("/crate/import/", {"file": file})
    entry = {"id": "own-one", "for": ["worm"], "want": {"tone": ["black"]}, "grade": "go-to", "why": SECRET}
    rule = wren.rules.create(school="ladder", call="own-one", entry=entry)
    lure = Lure.objects.filter(tray__owner=wren).first()
    lure.note = SECRET
    lure.save()
    signed_in.post(f"/crate/lure/{lure.pk}/move/", {"tray": Tray.objects.filter(owner=wren).last().pk})
    keys = {
        "token": make_token(wren, SECRET, ["waters"])[0].pk,
        "water": tarn.pk,
        "water_change": Change.objects.filter(owner=wren, area="water").first().pk,
        "rule": rule.pk,
        "kept": wren.kept_plans.get().pk,
        "draft": ImportDraft.objects.get(owner=wren).pk,
        "picture": keep_picture(wren, *picture()).pk,
        "tray": Tray.objects.filter(owner=wren).first().pk,
        "lure": lure.pk,
        "thing": Thing.objects.create(tray=lure.tray, name=SECRET).pk,
        "change": Change.objects.filter(owner=wren, area="crate").first().pk,
        "share": make_share(wren, "water", str(tarn.pk)).pk,
        "trip": wren.trips.first().pk,
        "job": new_job(wren, "plan", "/plan/").pk,
    }
    return keys, [(address_of(route, name, keys), name) for route, name in routes()]


def address_of(route, name, keys):
    if "<int:" in route:
        assert name in OF, f"{name} is new: say in KEYS what its number is the key of"
        route = re.sub(r"<int:(pk|change_pk)>", str(keys[OF[name]]), route, count=1)
        route = re.sub(r"<int:\w+>", "5", route)
    return re.sub(r"<[^>]*>", "worm", route)


def everything(owner):
    told = table_of(owner)
    return told["things"], told["account"], owner.tokens.count(), owner.shares.count(), owner.import_drafts.count()


def render_body(keys):
    """The keys of another's under every name that a form of ours has for one."""
    names = (
        "pk",
        "water",
        "tray",
        "lure",
        "into",
        "before",
        "trip",
        "plan",
        "mark",
        "onto",
        "picture",
        "rule",
        "change",
    )
    told = {name: keys.get(name, keys["lure"]) for name in names}
    return told | {"value": keys["water"], "what": "water", "to": "out", "category": "worm", "card": "black-plain",
                   "count": "2", "name": "Mine", "date": "2026-06-01", "categories": ["worm"], "lines": "2 black worm",
                   "school": "ladder", "text": "5", "field": "days"}  # fmt: skip


def test_somebody_else_sees_and_changes_nothing(wren_s, client, wren, stranger):
    keys, addresses = wren_s
    before = everything(wren)
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    for address, name in addresses:
        if name in ("sign-out", "account-delete"):
            continue
        for ask in (client.get, client.post, client.put, client.delete)[: 4 if name in OF else 2]:
            told = ask(address, render_body(keys) if ask == client.post else None)
            assert told.status_code < 500, (ask, address)
            assert SECRET not in told.content.decode("utf-8", "replace"), (ask, address)
            if name in OF and ask in (client.get, client.post):
                assert told.status_code in (302, 404, 405, 422), (ask, address, told.status_code)
    assert everything(wren) == before


def test_a_visitor_changes_nothing(wren_s, client, wren):
    keys, addresses = wren_s
    before = everything(wren)
    client.logout()
    for address, _ in addresses:
        for ask in (client.get, client.post, client.put, client.delete):
            told = ask(address, render_body(keys) if ask == client.post else None)
            assert told.status_code < 500, (ask, address)
            assert SECRET not in told.content.decode("utf-8", "replace"), (ask, address)
    assert everything(wren) == before


ODD = (
    "", " ", "0", "-1", "999999999999999999999", "1e309", "NaN", "ä\u0000b", "\ufffd",
    "worm", "black-plain", "[]", "{}", '{"a": [1]}', "2026-13-45", "'; DROP TABLE", "<script>",
    "x" * 5000, "5", "30 in", "on",
)  # fmt: skip


def test_whatever_is_sent_nothing_breaks(wren_s, client, wren):
    """Seeded, so that what breaks once breaks again."""
    keys, addresses = wren_s
    pick = random.Random(17)
    names = [*render_body(keys), "q", "page", "see", "visibility", "c", "one", "other", "right", "at_most", "rows",
             "file", "corners", "shown", "light", "months", "food", "units", "email", "may", "readings"]  # fmt: skip
    client.force_login(wren, backend="django.contrib.auth.backends.ModelBackend")
    for number in range(REQUESTS):
        address, name = pick.choice(addresses)
        if name in ("sign-out", "account-delete", "water-delete", "lure-delete", "tray-delete"):
            continue
        told = {pick.choice(names): pick.choice(ODD) for _ in range(pick.randint(0, 7))}
        if pick.random() < 0.1:
            told["file"] = SimpleUploadedFile(pick.choice(("a.csv", "a.xlsx", "a.json", "a.zip")), pick.randbytes(200))
        ask = pick.choice((client.get, client.post))
        more = {"headers": {"HX-Request": "true"}} if pick.random() < 0.5 else {}
        status = ask(address, told, **more).status_code
        assert status < 500, (number, ask, address, told)
