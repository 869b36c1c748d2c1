"""Each main view against axe, in the light and the dark scheme."""

import pytest
from axe_playwright_python.sync_playwright import Axe

PAGES = (
    "/waters/", "/plan/?category=jerkbait", "/crate/", "/account/", "/colours/", "/colours/shad-glass/",
    "/colours/compare/?card=bone&card=white-flat", "/colours/ask/?category=worm&month=5", "/colours/rules/",
    "/colours/own/bone/", "/waters/compare/", "/buy/", "/plan/overview/", "/plan/travel/",
    "/day/", "/day/new/", "/colours/sight/", "/colours/sight/sure/", "/start/", "/start/lures/", "/start/owned/",
    "/crate/enter/", "/crate/import/", "/crate/picture/", "/crate/packing/", "/crate/history/", "/plan/compare/",
    "/crate/bench/", "/waters/new/", "/day/learned/", "/account/archive/", "/account/programs/",
    "/account/programs/interface/", "/account/places/", "/account/codes/", "/shared/",
    "/teach/", "/teach/drill/", "/teach/story/worm/", "/teach/depth/", "/teach/bites/", "/teach/quarrels/",
)  # fmt: skip


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_axe_finds_nothing(page, scheme):
    page.emulate_media(color_scheme=scheme)
    page.goto("/plan/overview/")
    page.get_by_label("Keep it as").fill("Kept")
    page.get_by_role("button", name="Keep", exact=True).click()
    kept = page.url
    page.goto("/day/")
    day = [f"{page.url}{part}" for part in ("log/", "water/")]
    for address in (*PAGES, kept, *day):
        page.goto(address)
        found = Axe().run(page).response["violations"]
        assert [(v["id"], [n["html"][:120] for n in v["nodes"]][:3]) for v in found] == [], address
