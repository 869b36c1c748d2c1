import subprocess

import pytest

from tackle.colours.palette import house_palette
from web.crate.models import Lure

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}


def text(response):
    return response.content.decode()


def test_the_list_is_in_order_and_a_tick_puts_it_into_the_crate(signed_in, wren):
    page = text(signed_in.get("/buy/"))
    assert "Three colours answer" in page
    assert page.index("Black <small>jerkbait") < page.index("Pearl white <small>walking topwater")
    after = text(signed_in.post("/buy/bought/jerkbait/black-plain/", headers=HTMX))
    assert "Two colours answer" in after
    assert Lure.objects.get(tray__owner=wren, category="jerkbait", card="black-plain").count == 3
    signed_in.post("/buy/bought/jerkbait/bone/", headers=HTMX)
    bone = Lure.objects.filter(tray__owner=wren, category="jerkbait", card="bone")
    assert sum(lure.count for lure in bone) == 6
    assert signed_in.post("/buy/bought/jerkbait/bone/", headers=HTMX).status_code == 404


def test_prices_and_a_budget(signed_in, wren):
    for category in ("jerkbait", "casting-jig", "walking-topwater", "worm"):
        signed_in.post("/buy/price/", {"category": category, "amount": "10"}, headers=HTMX)
    page = text(signed_in.post("/buy/price/", {"category": "", "amount": "35,00"}, headers=HTMX))
    assert "The budget leaves" in page
    assert "past the budget" in page
    wrong = signed_in.post("/buy/price/", {"category": "", "amount": "plenty"}, headers=HTMX)
    assert wrong.status_code == 422
    assert "is not an amount" in text(wrong)
    assert "The budget leaves" not in text(signed_in.post("/buy/price/", {"category": "", "amount": ""}, headers=HTMX))


def test_a_colour_may_cost_other_than_its_category(signed_in):
    first = {"category": "jerkbait", "card": "black-plain", "amount": "9"}
    page = text(signed_in.post("/buy/price/", first, headers=HTMX))
    assert "27.00" in page
    assert 'value="9.00"' in page  # the first price told holds for the category
    page = text(signed_in.post("/buy/price/", {**first, "amount": "12.5"}, headers=HTMX))
    assert "37.50" in page
    assert 'value="9.00"' in page
    page = text(signed_in.post("/buy/price/", {**first, "amount": ""}, headers=HTMX))
    assert "37.50" not in page
    assert signed_in.post("/buy/price/", {**first, "card": "no-such"}, headers=HTMX).status_code == 422


def test_the_list_as_pdf(signed_in):
    response = signed_in.get("/buy/list.pdf")
    assert response["Content-Type"] == "application/pdf"
    told = printed(response.content)
    assert "To buy: 20 pieces" in told
    assert "Stop there" in told
    assert "Atkinson" in fonts(response.content)


def printed(pdf: bytes) -> str:
    return subprocess.run(
        ["pdftotext", "-layout", "-", "-"], input=pdf, capture_output=True, check=True
    ).stdout.decode()


def fonts(pdf: bytes) -> str:
    return subprocess.run(["pdffonts", "-"], input=pdf, capture_output=True, check=True).stdout.decode()


def test_the_list_as_csv(signed_in):
    lines = text(signed_in.get("/buy/list.csv")).splitlines()
    assert lines[0].startswith("category,code,colour,buy")
    assert lines[1].startswith("jerkbait,BK,Black,3,0,")


def test_the_list_is_its_owners(intruder, wren):
    assert "Nothing to buy" in text(intruder.get("/buy/"))
    assert intruder.post("/buy/bought/jerkbait/black-plain/", headers=HTMX).status_code == 404


def test_queries_are_bounded(signed_in, django_assert_max_num_queries):
    with django_assert_max_num_queries(20):
        signed_in.get("/buy/")


def test_jigs_planned_with_trailers_are_bought_with_them(signed_in, wren):
    signed_in.post("/plan/settle/casting-jig/", {"what": "trailers"}, headers=HTMX)
    page = text(signed_in.get("/buy/"))
    assert "<small>jig trailer</small>" in page
    assert "Black, blue fleck <small>casting jig</small>" in page
    before = text(signed_in.get("/buy/list.csv"))
    adds = [float(line.rsplit(",", 4)[1]) for line in before.splitlines()[1:] if "jig" in line]
    assert sum(adds) > 20
    trailer = next(line for line in before.splitlines() if line.startswith("jig-trailer"))
    card = Lure.objects.filter(tray__owner=wren, category="jig-trailer")
    assert not card.exists()
    code = trailer.split(",")[1]
    chosen = next(one.id for one in house_palette().sold_in("jig-trailer") if one.code == code)
    signed_in.post(f"/buy/bought/jig-trailer/{chosen}/", headers=HTMX)
    assert card.get().card == chosen
