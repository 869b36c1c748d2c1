"""Retakes the pictures in docs/screenshots/ from demo data: ./wax screenshots."""

import os
from pathlib import Path

import pytest

from tests.browser.conftest import PHONE

FOLDER = Path(os.environ["WAX_SCREENSHOTS"])


@pytest.mark.parametrize(("name", "address"), [("waters", "/waters/"), ("plan", "/plan/"), ("crate", "/crate/")])
def test_take(page, name, address):
    page.goto(address)
    if name == "waters":
        page.get_by_role("link", name="Tarn Hollow").click()
    page.wait_for_load_state("networkidle")
    page.screenshot(path=FOLDER / f"{name}.png")


def test_take_phone(phone):
    phone.goto("/plan/?category=worm")
    phone.wait_for_load_state("networkidle")
    assert phone.viewport_size == PHONE
    phone.screenshot(path=FOLDER / "plan-phone.png")
