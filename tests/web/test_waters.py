import pytest

from web.waters.models import Water

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}


@pytest.fixture
def tarn(wren):
    return Water.objects.get(name="Tarn Hollow")


def test_the_sentence_counts_the_days(signed_in, tarn):
    page = signed_in.get(f"/waters/{tarn.pk}/").content.decode()
    assert "62 days</span> a year, 24 of them in fair water" in page


def test_a_number_on_the_board_is_kept(signed_in, tarn):
    entry = {"band": "mud", "light": "night", "days": "2,5"}
    response = signed_in.post(f"/waters/{tarn.pk}/days/", entry, headers=HTMX)
    assert "64.5 days</span>" in response.content.decode()
    assert tarn.expected.get(band="mud", light="night").days == 2.5


@pytest.mark.parametrize(
    ("text", "said"),
    [("many", "is not a number of days"), ("-1", "Days go from 0 to 366"), ("360", "A year has 366 days, and 62 are")],
)
def test_a_wrong_number_is_refused_and_stays_in_its_cell(signed_in, tarn, text, said):
    entry = {"band": "mud", "light": "night", "days": text}
    response = signed_in.post(f"/waters/{tarn.pk}/days/", entry, headers=HTMX)
    assert response.status_code == 422
    assert said in response.content.decode()
    assert f'value="{text}"' in response.content.decode()
    assert not tarn.expected.filter(band="mud", light="night").exists()


def test_a_water_is_made_changed_and_deleted(signed_in, wren):
    entry = {"name": "Otter Slack", "kind": "river", "salinity": "fresh", "norm": "40 cm", "food": ["crawfish"]}
    signed_in.post("/waters/new/", entry)
    made = Water.objects.get(name="Otter Slack")
    assert made.norm_in == pytest.approx(40 / 2.54, abs=0.01)
    again = signed_in.post("/waters/new/", {**entry, "norm": "deep"}, headers=HTMX)
    assert "You have a water of that name already" in again.content.decode()
    assert "&#x27;deep&#x27; is not a length" in again.content.decode()
    signed_in.post(f"/waters/{made.pk}/edit/", {**entry, "name": "Otter Run", "food": []})
    assert Water.objects.get(pk=made.pk).name == "Otter Run"
    signed_in.post(f"/waters/{made.pk}/delete/")
    assert not Water.objects.filter(pk=made.pk).exists()


def test_another_anglers_water_is_not_there(intruder, tarn):
    for address in ("", "edit/"):
        assert intruder.get(f"/waters/{tarn.pk}/{address}").status_code == 404
    entry = {"band": "fair", "light": "bright", "days": "0"}
    assert intruder.post(f"/waters/{tarn.pk}/days/", entry).status_code == 404
    assert intruder.post(f"/waters/{tarn.pk}/delete/").status_code == 404
    assert tarn.expected.get(band="fair", light="bright").days == 8


def test_queries_are_bounded(signed_in, tarn, django_assert_max_num_queries):
    for n in range(20):
        signed_in.post("/waters/new/", {"name": f"Pond {n}", "kind": "pond", "salinity": "fresh"})
    with django_assert_max_num_queries(8):
        signed_in.get(f"/waters/{tarn.pk}/")
