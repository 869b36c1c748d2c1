import re
from html import unescape

import pytest

from tests.owner import renewed
from tests.pages import text
from web.domain.crate.models import Lure, Tray

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}


@pytest.fixture
def tray(wren):
    return Tray.objects.get(owner=wren, letter="C")


def black_worm(tray, /, **changes):
    return {
        "category": "worm",
        "card": "black-plain",
        "count": "2",
        "size": "6",
        "tray": tray.pk,
        "name": "",
        **changes,
    }


def test_the_check_finds_the_demos_faults(signed_in, wren):
    page = " ".join(text(signed_in.get("/crate/")).split())
    assert "gap · " in page
    assert "D2, D3 are one colour" in page
    assert "C2, C3 are one colour" not in page  # worms are eaten: a season's worth is no surplus


def test_a_tray_with_more_kinds_than_compartments_says_so(signed_in, wren):
    tray = Tray.objects.get(owner=wren, letter="C")
    tray.rows = tray.columns = 1
    tray.save()
    for size in (4, 5, 6):
        Lure.objects.create(tray=tray, category="jerkbait", card="pink-loud", size_in=size)
    page = " ".join(text(signed_in.get("/crate/?findings=all")).split())
    assert "kinds in 1 compartments" in page


def test_adding_what_is_missing_closes_the_gap(signed_in, tray):
    response = text(signed_in.post("/crate/add/", black_worm(tray), headers=HTMX))
    assert "gap-worm-black-plain" not in response
    assert "Black is added." in response
    assert "2 in the tackle box" in text(signed_in.get("/plan/?category=worm"))


def test_edit_delete_and_undo(signed_in, tray):
    lure = tray.lures.first()
    signed_in.post(f"/crate/lure/{lure.pk}/", black_worm(tray, name="Coal", size="15 cm"), headers=HTMX)
    lure.refresh_from_db()
    assert (lure.name, lure.card) == ("Coal", "black-plain")
    assert lure.size_in == pytest.approx(15 / 2.54, abs=0.01)
    signed_in.post(f"/crate/lure/{lure.pk}/delete/", headers=HTMX)
    assert not Lure.objects.filter(pk=lure.pk).exists()
    taken_out, changed = wren_changes(tray)[:2]
    assert "Undone: Black is taken out." in text(signed_in.post(f"/crate/undo/{taken_out.pk}/", headers=HTMX))
    assert Lure.objects.get(pk=lure.pk).name == "Coal"
    signed_in.post(f"/crate/undo/{changed.pk}/", headers=HTMX)
    assert Lure.objects.get(pk=lure.pk).name == "GP pepper"
    assert signed_in.post(f"/crate/undo/{changed.pk}/", headers=HTMX).status_code == 404


def test_what_a_form_showed_goes_with_it_and_a_stale_one_is_refused(signed_in, tray):
    lure = tray.lures.first()
    address = f"/crate/lure/{lure.pk}/"
    form = text(signed_in.get(address, headers=HTMX))
    shown = unescape(re.search(r'name="shown" value="([^"]*)"', form)[1])
    said = signed_in.post(address, black_worm(tray, count="5", shown=shown), headers=HTMX)
    assert said.status_code == 200
    assert tray.lures.get(pk=lure.pk).count == 5
    stale = signed_in.post(address, black_worm(tray, count="7", shown=shown), headers=HTMX)
    assert stale.status_code == 409
    assert "and is “5” now; you wrote “7”" in unescape(text(stale))
    assert tray.lures.get(pk=lure.pk).count == 5


def wren_changes(tray):
    return list(tray.owner.history.all())


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({"count": "0"}, "greater than or equal to 1"),
        ({"card": "bone"}, "Select a valid choice"),
        ({"size": "long"}, "is not a length: write it like 30 in"),
        ({"tray": "0"}, "Select a valid choice"),
    ],
)
def test_a_wrong_lure_is_refused_and_nothing_typed_is_lost(signed_in, tray, changes, said):
    before = Lure.objects.count()
    response = signed_in.post("/crate/add/", black_worm(tray, name="Coal", **changes), headers=HTMX)
    assert response.status_code == 422
    assert said in text(response)
    assert 'value="Coal"' in text(response)
    assert Lure.objects.count() == before


def test_flake_makes_no_second_colour(signed_in, wren, tray):
    for flake in ("plain", "red", "purple"):
        Lure.objects.create(tray=tray, category="creature", card=f"green-pumpkin-{flake}", count=2, size_in=4)
    page = " ".join(text(signed_in.get("/crate/?findings=all")).split())
    assert "They differ in flake or shade alone" in page


def test_what_is_torn_covers_nothing_and_says_what_it_takes(signed_in, wren, tray):
    Lure.objects.create(tray=tray, category="swimbait", card="shad-soft", count=1, condition="torn")
    page = " ".join(text(signed_in.get("/crate/?findings=all")).split())
    assert "1 lure to mend" in page
    assert "soft-bait glue" in page
    Lure.objects.filter(tray__owner=wren, condition="torn").update(condition="worn")
    renewed(wren)
    assert "to mend" not in text(signed_in.get("/crate/?findings=all"))


def test_covered_days_and_those_of_the_gaps_add_up_by_category(signed_in):
    page = " ".join(text(signed_in.get("/crate/")).split())
    rows = re.findall(r'<th scope="row">.*?</tr>', page.split('class="covered-days"')[1].split("</table>")[0])
    assert rows
    for row in rows:
        expected, covered = map(float, re.findall(r'<td class="number">([\d.]+)</td>', row)[:2])
        left = re.sub(r"<[^>]+>", " ", row.rsplit("<td>", 1)[1])
        assert covered + sum(map(float, re.findall(r"[\d.]+", left))) == pytest.approx(expected)


def test_another_anglers_crate_is_not_there(intruder, tray):
    lure = tray.lures.first()
    assert intruder.get(f"/crate/lure/{lure.pk}/").status_code == 404
    assert intruder.post(f"/crate/lure/{lure.pk}/delete/").status_code == 404
    assert intruder.post(f"/crate/undo/{wren_changes(tray)[0].pk}/").status_code == 404
    intruder.post("/crate/tray/", {"name": "Mine", "label": "teal"}, headers=HTMX)
    assert intruder.post("/crate/add/", black_worm(tray), headers=HTMX).status_code == 422
    assert tray.name not in text(intruder.get("/crate/"))


def test_queries_are_bounded(signed_in, tray, django_assert_max_num_queries):
    with django_assert_max_num_queries(32):
        signed_in.get("/crate/")
