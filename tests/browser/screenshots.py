"""Retakes the pictures in docs/screenshots/ from demo data: ./wax screenshots."""

import os
import re
from pathlib import Path

import pytest

FOLDER = Path(os.environ["WAX_SCREENSHOTS"])
VIEWS = {
    "rulebook": "/colours/rules/ladder/read/?category=worm",
    "plan": "/plan/?category=jerkbait",
    "tackle-box": "/crate/",
    "colours": "/colours/",
    "shopping-list": "/buy/",
    "rework": "/crate/bench/",
    "results": "/day/learned/",
    "story": "/teach/story/worm/",
    "trip": "/day/",
    "sight": "/colours/sight/?visibility=60+in&stain=none&fish=largemouth",
}
PHONE_VIEWS = {
    "ask-phone": "/colours/ask/?category=shallow-crankbait&see=14+in&light=overcast&food=sunfish",
}


def take(page, name, address):
    page.goto(address)
    page.wait_for_load_state("networkidle")
    page.screenshot(path=FOLDER / f"{name}.png")


@pytest.mark.parametrize("name", VIEWS)
def test_take(page, name):
    take(page, name, VIEWS[name])


def test_take_start(page):
    page.context.clear_cookies()
    take(page, "start", "/")


def test_take_waters(page, forecast):
    page.get_by_role("link", name="Tarn Hollow").click()
    page.wait_for_load_state("networkidle")
    page.get_by_text("from the forecast service").wait_for()
    page.screenshot(path=FOLDER / "waters.png")


@pytest.mark.parametrize("name", PHONE_VIEWS)
def test_take_phone(phone, name):
    take(phone, name, PHONE_VIEWS[name])


def test_take_drill(page):
    page.goto("/teach/drill/?category=casting-jig")
    page.locator("section.question:visible [data-pick=first]").first.click()
    page.locator(".pick-said:visible").first.wait_for()
    page.screenshot(path=FOLDER / "quiz.png")


def test_take_enter(page):
    page.goto("/crate/enter/")
    page.locator("#lines").fill(
        "3 worm junebug 7in\nred bug x2\nprop bait white rusty hooks\nworm weights 3/8 x10\nflibber bone"
    )
    page.locator(".typed-row").nth(3).wait_for()
    page.screenshot(path=FOLDER / "enter.png")


def test_take_import(page, tmp_path):
    path = tmp_path / "my-lures.csv"
    path.write_text(
        "Qty,Type,Color,Length,Weight,Box\n3,worm,green pumpkin red fleck,6 in,,C\n"
        "2,sq crank,chart blk back,2.5,3/8 oz,A\n"
        "many,jerkbait,bone,4.5,1/2 oz,A\n2,jerkbait,moonlight shimmer,4.5,,A\n1,thingamajig,black,,,D\n"
        "4,popper,bone,3 in,,B\n2,walker,white,4 in,0.6 oz,B\n"
    )
    page.goto("/crate/import/")
    page.get_by_label("The file", exact=True).set_input_files(path)
    page.get_by_role("button", name="Preview").click()
    page.locator(".preview").wait_for()
    page.screenshot(path=FOLDER / "import.png")


def test_take_picture(page, settings):
    settings.DEMO_CAMERA = True
    page.goto("/crate/picture/")
    page.get_by_label("Which tray").select_option(index=1)
    page.get_by_role("button", name="Photograph tray").click()
    page.get_by_label("What lies in it").select_option("walking-topwater")
    canvas = page.get_by_role("application")
    wide, tall = (float(canvas.get_attribute(f"data-{name}")) for name in ("width", "height"))
    box = canvas.bounding_box()
    from web.domain.crate.models import Tray

    corners = lay_grid(Tray.objects.get(letter="B"))
    for start, end in zip(((0.08, 0.1), (0.92, 0.1), (0.92, 0.9), (0.08, 0.9)), corners, strict=True):
        page.mouse.move(box["x"] + start[0] * box["width"], box["y"] + start[1] * box["height"])
        page.mouse.down()
        page.mouse.move(box["x"] + end[0] * box["width"], box["y"] + end[1] * box["height"], steps=3)
        page.mouse.up()
    assert wide > tall
    page.get_by_role("button", name="Read picture").click()
    page.locator(".seen > li").first.wait_for()
    page.set_viewport_size({"width": 1280, "height": 1100})
    page.screenshot(path=FOLDER / "picture.png")


def lay_grid(tray):
    """Where the camera's tray lies, as shares of its picture: what a careful hand would drag the corners to."""
    from tackle.colours.palette import house_palette
    from tackle.picture.paint import paint_tray

    cards = [house_palette().by_id[lure.card] for lure in tray.lures.all()]
    painted = paint_tray(cards, tray.rows, tray.columns, seed=tray.pk)
    return [(x / painted.image.width, y / painted.image.height) for x, y in painted.corners]


def test_take_log(page):
    page.goto("/day/")
    page.get_by_role("link", name="Log", exact=True).click()
    page.locator(".log-bar").first.wait_for()
    page.screenshot(path=FOLDER / "log.png")


def test_take_on_the_water(phone):
    phone.goto("/day/")
    phone.get_by_role("link", name="Start fishing").click()
    phone.get_by_role("button", name="Throw").click()
    phone.get_by_role("button", name="Solid").click()
    phone.locator("#say", has_text=re.compile("Stay with|Fish are here|Now")).wait_for()
    phone.get_by_text("all sent").wait_for()
    phone.screenshot(path=FOLDER / "water-phone.png")
