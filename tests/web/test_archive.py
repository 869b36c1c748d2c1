"""Everything of somebody's as one file, and back; and gone for good."""

import io
import json
import zipfile

import pytest
from django.apps import apps
from django.db.models import ForeignKey

from tests.owner import renewed
from web.accounts.models import User
from web.archive import changes
from web.archive.shelves import STAYS, shelves
from web.archive.writing import TABLE, table_of, write_archive
from web.stock.changes import add_lure, delete_lure, keep_picture, mark_finding
from web.stock.models import Lure
from web.stock.pictures import taken_in
from web.ui.shared import SHARED

pytestmark = pytest.mark.django_db


def test_every_table_that_leads_to_an_owner_is_in_it():
    """A new table is put on a shelf, or is said to stay."""
    ours = {model for model in apps.get_models() if model.__module__.startswith("web.")}
    owned, grown = {User}, True
    while grown:
        found = {
            model for model in ours
            if any(isinstance(one, ForeignKey) and one.related_model in owned for one in model._meta.concrete_fields)
        }  # fmt: skip
        grown, owned = found - owned, owned | found
    assert {model._meta.label for model in owned - {User}} == {shelf.label for shelf in shelves()} | STAYS


def picture():
    from PIL import Image

    held = io.BytesIO()
    Image.new("RGB", (48, 40), "#336655").save(held, "JPEG")
    held.seek(0)
    return taken_in(held)


def as_told(owner):
    told = json.loads(json.dumps(table_of(owner), default=str))
    return told["things"], {name: value for name, value in told["account"].items() if name != "name"}


def filled(client, wren):
    """The demo's angler with one of everything besides."""
    client.post("/plan/keep/", {"name": "Spring"})
    client.post("/account/", {"email": wren.email, "units": "metric"})
    stacks = list(Lure.objects.filter(tray__owner=wren).order_by("pk")[:2])
    mark_finding(wren, f"double:worm:black-plain:{stacks[0].pk}+{stacks[1].pk}", "two", "later", "")
    kept = keep_picture(wren, *picture())
    change = add_lure(wren, tray=stacks[0].tray, category="worm", card="black-plain", count=2, picture=kept)
    delete_lure(wren, Lure.objects.get(picture=kept, category="worm").pk)
    stacks[1].picture = kept
    stacks[1].save()
    return change


def test_an_archive_read_in_elsewhere_is_the_same(signed_in, wren, stranger):
    filled(signed_in, wren)
    wren.refresh_from_db()
    before = as_told(renewed(wren))
    assert changes.take_in(stranger, write_archive(wren)) > 1500
    assert as_told(stranger) == before
    assert bytes(stranger.pictures.get().jpeg)
    signed_in.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    for address in ("/waters/", "/plan/", "/crate/", "/buy/", "/day/", "/day/learned/", "/plan/overview/"):
        assert signed_in.get(address, follow=True).status_code == 200, address
    history = signed_in.get("/crate/history/").content.decode()
    assert "is added" in history
    assert "crate/undo" not in history


def test_an_account_with_things_in_it_takes_none(signed_in, wren):
    sent = signed_in.post("/account/archive/take-in/", {"file": io.BytesIO(write_archive(wren))})
    assert sent.status_code == 422
    assert "goes into an empty one" in sent.content.decode()


def packed(table, pictures=()):
    whole = io.BytesIO()
    with zipfile.ZipFile(whole, "w") as file:
        file.writestr(TABLE, table if isinstance(table, str | bytes) else json.dumps(table, default=str))
        for name, content in pictures:
            file.writestr(name, content)
    return whole.getvalue()


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (lambda told: "[" * 5000, "nested too deep"),
        (lambda told: {**told, "wax_crate": 9}, "of another form"),
        (lambda told: {**told, "things": {"accounts.User": [{}]}}, "is no table"),
        (lambda told: edited(told, "crate.Lure", count=0), r"crate.Lure\[1\]: count"),
        (lambda told: edited(told, "crate.Lure", tray_id=999), r"crate.Lure\[1\]: tray_id: It leads to nothing"),
        (lambda told: edited(told, "crate.Lure", category="hat"), r"crate.Lure\[1\]: category"),
        (lambda told: edited(told, "waters.WaterMonth", food={"x": 1}), "does not hold together"),
        (lambda told: edited(told, "plans.KeptPlan", content=7), "does not hold together"),
        (lambda told: edited(told, "day.Trip", skies=["dark"]), "does not hold together"),
        (lambda told: edited(told, "crate.Picture"), "picture"),
    ],
)
def test_what_does_not_hold_together_is_refused_whole(signed_in, wren, stranger, edit, said):
    filled(signed_in, wren)
    told = json.loads(json.dumps(table_of(wren), default=str))
    there = [] if said == "picture" else [("pictures/1.jpg", picture()[0])]
    with pytest.raises(changes.ValidationError, match=said):
        changes.take_in(stranger, packed(edit(told), there))
    assert not stranger.waters.exists()
    assert not Lure.objects.filter(tray__owner=stranger).exists()


def edited(told, label, **values):
    told["things"][label][0].update(values)
    return told


def test_no_zip_is_no_archive(stranger):
    with pytest.raises(changes.ValidationError, match="no archive of Wax Crate"):
        changes.take_in(stranger, b"hello")


def test_deleting_takes_the_password_and_everything(signed_in, wren, stranger):
    refused = signed_in.post("/account/archive/delete/", {"password": "not-this"})
    assert refused.status_code == 422
    assert User.objects.filter(pk=wren.pk).exists()
    SHARED.put("drawn for wren", "1", b"a tray")
    sent = signed_in.post("/account/archive/delete/", {"password": "open-the-crate"}, follow=True)
    assert SHARED.get("drawn for wren", "1") is None
    assert "is deleted" in sent.content.decode()
    assert not User.objects.filter(username="wren").exists()
    assert not Lure.objects.exists()
    assert signed_in.get("/crate/").status_code == 302
