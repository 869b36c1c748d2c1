"""Everything of somebody's as one file, and back; and gone for good."""

import io
import json
import re
import tracemalloc
import zipfile

import pytest
from django.apps import apps
from django.db.models import ForeignKey

from tackle.base.store import STORE, Serializer
from tests.owner import archive_of, renewed, table_of
from tests.pages import text
from web.common.accounts.models import User
from web.common.work.models import Job
from web.domain.crate.models import Lure
from web.domain.crate.pictures import taken_in
from web.domain.crate.services import add_lure, delete_lure, keep_picture, mark_finding
from web.domain.waters.models import Reading
from web.pages.archive import services
from web.pages.archive.reading import TABLE
from web.pages.archive.shelves import STAYS, shelves

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
    told = table_of(owner)
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
    assert services.take_in(stranger, archive_of(wren)) > 1500
    assert as_told(stranger) == before
    assert bytes(stranger.pictures.get().jpeg)
    signed_in.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    for address in ("/waters/", "/plan/", "/crate/", "/buy/", "/day/", "/day/learned/", "/plan/overview/"):
        assert signed_in.get(address, follow=True).status_code == 200, address
    history = text(signed_in.get("/crate/history/"))
    assert "is added" in history
    assert "crate/undo" not in history


def test_an_account_with_things_in_it_takes_none(signed_in, wren):
    sent = signed_in.post("/account/archive/take-in/", {"file": archive_of(wren)})
    assert sent.status_code == 422
    assert "goes into an empty one" in text(sent)


def packed(table, pictures=()):
    whole = io.BytesIO()
    with zipfile.ZipFile(whole, "w") as file:
        file.writestr(TABLE, table if isinstance(table, str | bytes) else json.dumps(table, default=str))
        for name, content in pictures:
            file.writestr(name, content)
    whole.seek(0)
    return whole


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (lambda told: '{"account":' + "[" * 5000, "nested too deep"),
        (lambda told: '{"account":' + "[" * 50 + "]" * 50 + "}", "nested too deep"),
        (lambda told: "[1, 2]", "'{' is missing"),
        (lambda told: json.dumps(told)[:-900], "is not JSON"),
        (lambda told: '{"wax_crate": 1, "account": "a' + "b" * 9_000_000 + '"}', "too long"),
        (lambda told: edited(told, "waters.Reading", date="0001-01-01"), r"waters.Reading\[1\]: date: 0001-01-01"),
        (lambda told: edited(told, "waters.Reading", note="a\x07b"), r"waters.Reading\[1\]: holds a character"),
        (lambda told: kept(told, lambda of: of["made_from"].update(months="all")), "made_from.months: Input should be"),
        (lambda told: kept(told, lambda of: of["categories"][0].update(right={"a": 1})), "categories.0.right"),
        (lambda told: kept(told, lambda of: of["categories"][0]["colours"][0].update(days=[1])), "colours.0.days"),
        (lambda told: kept(told, lambda of: of["terms"]["plan"].update(first_month=13)), "first_month"),
        (lambda told: kept(told, lambda of: of["terms"]["choices"].update(worm=[])), "terms.choices.worm"),
        (lambda told: {**told, "wax_crate": 9}, "of another form"),
        (lambda told: {**told, "things": {"accounts.User": [{}]}}, "is no table"),
        (lambda told: edited(told, "crate.Lure", count=0), r"crate.Lure\[1\]: count"),
        (lambda told: edited(told, "crate.Lure", tray_id=999), r"crate.Lure\[1\]: tray_id: It leads to nothing"),
        (lambda told: edited(told, "crate.Lure", category="hat"), r"crate.Lure\[1\]: category"),
        (lambda told: edited(told, "waters.WaterMonth", food={"x": 1}), "does not hold together"),
        (lambda told: edited(told, "waters.Water", tide={"waves": "high"}), "does not hold together"),
        (lambda told: edited(told, "waters.Water", half_life_y=0), r"waters.Water\[1\]: half_life_y"),
        (lambda told: edited(told, "waters.Reading", sky="soup"), r"waters.Reading\[1\]: sky"),
        (lambda told: edited(told, "plans.KeptPlan", content=7), "does not hold together|cannot be kept"),
        (lambda told: edited(told, "day.Trip", skies=["dark"]), "does not hold together"),
        (lambda told: edited(told, "crate.Picture"), "picture"),
    ],
)
def test_what_does_not_hold_together_is_refused_whole(signed_in, wren, stranger, edit, said):
    filled(signed_in, wren)
    told = table_of(wren)
    there = [] if said == "picture" else [("pictures/1.jpg", picture()[0])]
    with pytest.raises(services.ValidationError, match=said):
        services.take_in(stranger, packed(edit(told), there))
    assert not stranger.waters.exists()
    assert not Lure.objects.filter(tray__owner=stranger).exists()


def kept(told, change):
    change(told["things"]["plans.KeptPlan"][0]["content"])
    return told


def edited(told, label, **values):
    told["things"][label][0].update(values)
    return told


def test_no_zip_is_no_archive(stranger):
    with pytest.raises(services.ValidationError, match="is none of Wax Crate"):
        services.take_in(stranger, io.BytesIO(b"hello"))


def test_what_is_unpacked_is_bounded_and_never_held_whole(stranger):
    """A few kilobytes that unpack to many megabytes, whatever their heading says of their size."""
    whole = io.BytesIO()
    with zipfile.ZipFile(whole, "w", zipfile.ZIP_DEFLATED) as file, file.open(TABLE, "w", force_zip64=True) as table:
        table.write(b'{"wax_crate": 1, "things": {"history.Change": [{}')
        for _ in range(160):
            table.write(b',{"words": "%s"}' % (b"a" * 980) * 1000)
        table.write(b"]}}")
    whole.seek(0)
    assert len(whole.getvalue()) < 1_000_000
    tracemalloc.start()
    with pytest.raises(services.ValidationError, match="is too large"):
        services.take_in(stranger, whole)
    most = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert most < 3_000_000
    many = packed('{"wax_crate": 1, "things": {"history.Change": [' + "{}," * 300_001 + "{}]}}")
    with pytest.raises(services.ValidationError, match="too many rows"):
        services.take_in(stranger, many)


def test_an_archive_is_made_and_read_by_the_queue(signed_in, wren, stranger):
    before = as_told(wren)
    made = signed_in.post("/account/archive/wax-crate/")
    assert re.fullmatch(r"/work/\d+/file/", made.headers["Location"])
    file = signed_in.get(made.headers["Location"])
    assert file.headers["Content-Type"] == "application/zip"
    content = b"".join(file.streaming_content)
    signed_in.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    assert signed_in.get(made.headers["Location"]).status_code == 404
    sent = signed_in.post("/account/archive/take-in/", {"file": io.BytesIO(content)}, follow=True)
    assert "things are in." in text(sent)
    assert as_told(stranger) == before
    assert not Job.objects.get(kind="take-in").pieces.exists()


def test_an_archive_that_could_not_be_read_is_not_handed_out(signed_in, wren):
    """Control characters came in by the door for programs once: they are left out. What nothing can read is said."""
    first = Reading.objects.filter(water__owner=wren).first()
    Reading.objects.filter(pk=first.pk).update(note="a\x07b")
    told = table_of(wren)["things"]["waters.Reading"]
    assert "ab" in [one["note"] for one in told]
    Reading.objects.filter(pk=first.pk).update(date="0001-01-01")
    made = signed_in.post("/account/archive/wax-crate/")
    assert made.status_code == 422
    assert "waters.Reading[" in text(made)
    assert "0001-01-01 is not from 1900 to 2199" in text(made)


def test_deleting_takes_the_password_and_everything(signed_in, wren, stranger):
    refused = signed_in.post("/account/archive/delete/", {"password": "not-this"})
    assert refused.status_code == 422
    assert User.objects.filter(pk=wren.pk).exists()
    key = wren.pk
    STORE.once("drawn for a test", key, lambda: "a tray", Serializer(str.encode, bytes.decode))
    sent = signed_in.post("/account/archive/delete/", {"password": "open-the-crate"}, follow=True)
    assert not STORE.has("drawn for a test", key)
    assert "is deleted" in text(sent)
    assert not User.objects.filter(username="wren").exists()
    assert not Lure.objects.exists()
    assert signed_in.get("/crate/").status_code == 302
