import re
import subprocess

import pytest

from tackle.colours.palette import house_palette
from tests.pages import printed, text
from web.domain.crate.models import Lure

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}


def offered(page):
    """What the list has to buy, in its order: category, card and how many."""
    return [
        (*address.split("/"), int(count))
        for address, count in re.findall(r"/buy/bought/([\w-]+/[\w-]+)/.*?I bought (\d+)", page, re.S)
    ]


def test_the_list_is_in_order_and_a_tick_puts_it_into_the_crate(signed_in, wren):
    page = text(signed_in.get("/buy/"))
    gains = [float(found) for found in re.findall(r"adds <b>([\d.]+) first-choice days", page)]
    assert gains == sorted(gains, reverse=True) != []
    (category, card, count), *rest = offered(page)
    had = sum(lure.count for lure in owned(wren, category, card))
    after = text(signed_in.post(f"/buy/bought/{category}/{card}/", headers=HTMX))
    assert offered(after) == rest
    assert sum(lure.count for lure in owned(wren, category, card)) == had + count
    assert signed_in.post(f"/buy/bought/{category}/{card}/", headers=HTMX).status_code == 404


def owned(wren, category, card):
    return Lure.objects.filter(tray__owner=wren, category=category, card=card)


def test_prices_and_a_budget(signed_in, wren):
    for category in ("jerkbait", "casting-jig", "walking-topwater", "worm"):
        signed_in.post("/buy/price/", {"category": category, "amount": "10"}, headers=HTMX)
    page = text(signed_in.post("/buy/price/", {"category": "", "amount": "35,00"}, headers=HTMX))
    assert "The budget leaves" in page
    assert "over budget" in page
    wrong = signed_in.post("/buy/price/", {"category": "", "amount": "plenty"}, headers=HTMX)
    assert wrong.status_code == 422
    assert "is not an amount" in text(wrong)
    assert "The budget leaves" not in text(signed_in.post("/buy/price/", {"category": "", "amount": ""}, headers=HTMX))


def test_a_colour_may_cost_other_than_its_category(signed_in, wren):
    category, card, count = next(one for one in offered(text(signed_in.get("/buy/"))) if owned(wren, *one[:2]))
    first = {"category": category, "card": card, "amount": "9"}
    page = text(signed_in.post("/buy/price/", first, headers=HTMX))
    assert f"{count * 9}.00" in page
    assert 'value="9.00"' in page  # the first price told holds for the category
    page = text(signed_in.post("/buy/price/", {**first, "amount": "12.5"}, headers=HTMX))
    assert f"{count * 12.5:.2f}" in page
    assert 'value="9.00"' in page
    page = text(signed_in.post("/buy/price/", {**first, "amount": ""}, headers=HTMX))
    assert f"{count * 12.5:.2f}" not in page
    assert signed_in.post("/buy/price/", {**first, "card": "no-such"}, headers=HTMX).status_code == 422
    alone = signed_in.post("/buy/price/", {**first, "category": ""}, headers=HTMX)
    assert (alone.status_code, "needs its category" in text(alone)) == (422, True)


def test_the_list_as_pdf(signed_in):
    response = signed_in.get("/buy/list.pdf")
    assert response["Content-Type"] == "application/pdf"
    told = printed(response.content)
    pieces = sum(count for *_, count in offered(text(signed_in.get("/buy/"))))
    assert f"To buy: {pieces} lures" in told
    assert "Stop there" in told
    assert "Atkinson" in fonts(response.content)


def fonts(pdf: bytes) -> str:
    return subprocess.run(["pdffonts", "-"], input=pdf, capture_output=True, check=True).stdout.decode()


def test_the_list_as_csv(signed_in):
    lines = text(signed_in.get("/buy/list.csv")).splitlines()
    assert lines[0].startswith("category,code,colour,buy")
    shown = offered(text(signed_in.get("/buy/")))
    assert [line.split(",")[0] for line in lines[1:]] == [category for category, *_ in shown]


def test_the_list_is_its_owners(intruder, wren):
    assert "Nothing to buy" in text(intruder.get("/buy/"))
    assert intruder.post("/buy/bought/jerkbait/black-plain/", headers=HTMX).status_code == 404


def test_queries_are_bounded(signed_in, django_assert_max_num_queries):
    with django_assert_max_num_queries(20):
        signed_in.get("/buy/")


def test_jigs_planned_with_trailers_are_bought_with_them(signed_in, wren):
    Lure.objects.filter(tray__owner=wren, category="jig-trailer").delete()
    signed_in.post("/plan/settle/casting-jig/", {"what": "trailers", "value": "with"}, headers=HTMX)
    page = text(signed_in.get("/buy/"))
    assert re.search(r"</svg>\s*jig trailer</small>", page)
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
