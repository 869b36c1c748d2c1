"""The bench: what leaves the boat, what comes in, what is made over, for some months; each done with one press."""

import re

import pytest

from tests.owner import renewed
from tests.pages import text
from web.domain.colours.models import OwnCard
from web.domain.crate.models import Lure, Tray
from web.domain.history.models import Change

pytestmark = pytest.mark.django_db
OUT = '"do" value="out"><input type="hidden" name="category" value="jerkbait"><input type="hidden" name="card" value="'
HTMX = {"HX-Request": "true"}
SPRING, WINTER = {"first": "3", "last": "5"}, {"first": "12", "last": "2"}


@pytest.fixture
def trays(wren):
    Lure.objects.filter(tray__owner=wren).delete()
    return {tray.letter: tray for tray in Tray.objects.filter(owner=wren).select_related("place")}


def page(client, **told):
    return " ".join(text(client.get("/crate/bench/", {**SPRING, **told})).split())


def do(client, **told):
    response = client.post("/crate/bench/", SPRING | told, headers=HTMX)
    return response.status_code, " ".join(text(response).split())


def at_home(trays):
    return next(tray for tray in trays.values() if tray.at_home)


def test_what_has_no_day_goes_home_and_undo_brings_it_back(signed_in, wren, trays):
    for card in ("tiger", "chartreuse-black", "pink-loud", "red-craw-glass"):
        Lure.objects.create(tray=trays["A"], category="jerkbait", card=card, count=3)
    shown = page(signed_in, **WINTER)
    (card, *_) = re.findall(f"{OUT}([a-z-]+)", shown)
    lure = Lure.objects.get(tray__owner=wren, card=card)
    code, shown = do(signed_in, **WINTER, do="out", category="jerkbait", card=card)
    assert code == 200
    moved = Lure.objects.get(tray__owner=wren, card=card)
    assert (moved.count, moved.tray.at_home) == (3, True)
    undo = {"from": "bench", **WINTER}
    assert "Undone" in text(signed_in.post(f"/crate/undo/{Change.objects.first().pk}/", undo, headers=HTMX))
    lure.refresh_from_db()
    assert (lure.tray.letter, lure.count) == ("A", 3)


def test_what_is_wanted_comes_in_from_home_up_to_par(signed_in, wren, trays):
    wanted = re.findall(r'data-points="gap-(jerkbait|worm)-([a-z-]+)"', text(signed_in.get("/crate/")))[:2]
    for category, card in wanted:
        Lure.objects.create(tray=at_home(trays), category=category, card=card, count=9)
    renewed(wren)
    year = {"first": "1", "last": "12"}
    shown = page(signed_in, **year)
    counts = [int(told) for told in re.findall(r">Bring (\d+)<", shown)]
    assert len(counts) == len(wanted) == 2
    do(signed_in, **year, do="bring", all="1")
    out = Lure.objects.filter(tray__owner=wren).exclude(tray__place__kind="home")
    assert sorted(out.values_list("count", flat=True)) == sorted(counts)
    assert sum(Lure.objects.filter(tray__owner=wren).values_list("count", flat=True)) == 18
    assert not re.search(r">Bring \d+<", page(signed_in, **year))


def test_a_lure_is_made_over_and_its_counts_move(signed_in, wren, trays):
    for card in ("silver-blue", "tiger"):
        Lure.objects.create(tray=trays["A"], category="jerkbait", card=card, count=4, size_in=4.5)
    shown = page(signed_in)
    lure, repair = re.search(
        r'name="lure" value="(\d+)">\s*<input type="hidden" name="repair" value="([a-z-]+)"', shown
    ).groups()
    was = Lure.objects.get(pk=lure)
    code, shown = do(signed_in, do="make", lure=lure, repair=repair, count="2")
    assert code == 200, shown
    assert Lure.objects.get(pk=lure).count == 2
    made = Lure.objects.filter(tray__owner=wren).order_by("-pk").first()
    assert (made.count, made.size_in, made.tray.letter) == (2, 4.5, "A") or Lure.objects.filter(count=6).exists()
    assert OwnCard.objects.filter(owner=wren, card=made.card).exists() or made.card != was.card
    cards = OwnCard.objects.count()
    for told in ({"count": "99"}, {"count": "0"}, {"lure": "0", "count": "1"}):
        assert do(signed_in, **{"do": "make", "lure": lure, "repair": repair, **told})[0] == 422
    assert OwnCard.objects.count() == cards  # what was not made leaves no card behind
    signed_in.post(f"/crate/undo/{Change.objects.first().pk}/", {"from": "bench", **SPRING}, headers=HTMX)
    assert Lure.objects.get(pk=lure).count == 4


def test_nothing_of_it_is_a_strangers(intruder, trays):
    lure = Lure.objects.create(tray=trays["A"], category="jerkbait", card="tiger", count=3)
    assert do(intruder, do="out", category="jerkbait", card="tiger")[0] == 422
    assert do(intruder, do="make", lure=lure.pk, repair="sand", count="1")[0] == 422
    assert Lure.objects.get().count == 3
