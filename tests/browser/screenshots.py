"""Retakes the pictures in docs/screenshots/ from demo data: ./wax screenshots."""

import os
from pathlib import Path

import pytest

FOLDER = Path(os.environ["WAX_SCREENSHOTS"])
VIEWS = {
    "plan": "/plan/?category=jerkbait",
    "crate": "/crate/",
    "colours": "/colours/",
    "card": "/colours/shad-glass/?category=jerkbait",
    "buy": "/buy/",
    "overview": "/plan/overview/",
}
PHONE_VIEWS = {
    "plan-phone": "/plan/?category=worm",
    "ask-phone": "/colours/ask/?category=shallow-crankbait&see=14+in&light=overcast&food=sunfish",
}


def take(page, name, address):
    page.goto(address)
    page.wait_for_load_state("networkidle")
    page.screenshot(path=FOLDER / f"{name}.png")


@pytest.mark.parametrize("name", VIEWS)
def test_take(page, name):
    take(page, name, VIEWS[name])


def test_take_waters(page, forecast):
    page.get_by_role("link", name="Tarn Hollow").click()
    page.wait_for_load_state("networkidle")
    page.get_by_text("from the forecast service").wait_for()
    page.screenshot(path=FOLDER / "waters.png")


@pytest.mark.parametrize("name", PHONE_VIEWS)
def test_take_phone(phone, name):
    take(phone, name, PHONE_VIEWS[name])
