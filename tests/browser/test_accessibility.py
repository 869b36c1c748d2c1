"""Each main view against axe, in the light and the dark scheme, wide and on a phone, with all that folds open."""

from axe_playwright_python.sync_playwright import Axe

from tests.browser.conftest import PHONE

PAGES = (
    "/waters/", "/plan/?category=jerkbait", "/crate/", "/account/", "/colours/", "/colours/shad-glass/",
    "/colours/compare/?card=bone&card=white-flat", "/colours/ask/?category=worm&month=5", "/colours/rules/",
    "/colours/own/bone/", "/waters/compare/", "/buy/", "/plan/overview/", "/plan/kinds/", "/plan/travel/",
    "/day/", "/day/new/", "/colours/sight/", "/colours/sight/sure/", "/start/", "/start/lures/", "/start/owned/",
    "/crate/enter/", "/crate/import/", "/crate/picture/", "/crate/packing/", "/crate/history/", "/plan/compare/",
    "/crate/bench/", "/waters/new/", "/day/learned/", "/account/archive/", "/account/programs/",
    "/account/programs/interface/", "/account/places/", "/account/codes/", "/shared/", "/teach/how/",
    "/teach/", "/teach/drill/", "/teach/story/worm/", "/teach/depth/", "/teach/bites/", "/teach/debates/",
)  # fmt: skip
DOORS = "/", "/account/sign-in/", "/account/sign-up/"
RULES = {"label-content-name-mismatch": {"enabled": True}}
SIZES = {"target-size": {"enabled": True}}  # slow, and the same in the dark
OPEN = "document.querySelectorAll('details:not(.menu)').forEach((fold) => { fold.open = true; })"
# A menu lies over what is below it; the rest is unfolded all at once.
# Colours that are on their way from one scheme to the other are at their end.
SETTLED = """() => { document.body.getBoundingClientRect();
  for (const one of document.getAnimations()) { try { one.finish(); } catch { one.cancel(); } } }"""
HEAP = "3 worm red bug 7 in\n2 moonlight jerkbait\nfrogy thing\n1 worm blck"


WAYS = [(size, scheme) for size in ({"width": 1280, "height": 800}, PHONE) for scheme in ("light", "dark")]


def check(page, address):
    """One page, opened once, looked at in every way."""
    page.goto(address)
    page.evaluate(OPEN)
    page.wait_for_load_state("networkidle")
    for size, scheme in WAYS:
        page.set_viewport_size(size)
        page.emulate_media(color_scheme=scheme)
        page.evaluate(SETTLED)
        rules = RULES | SIZES if scheme == "light" else RULES
        found = Axe().run(page, options={"rules": rules}).response["violations"]
        told = [(v["id"], [n["html"][:160] for n in v["nodes"]][:3]) for v in found]
        assert told == [], (address, scheme, size["width"])


def test_axe_finds_nothing(page, tmp_path):
    page.goto("/plan/overview/")
    page.get_by_label("Plan name").fill("Kept")
    page.get_by_role("button", name="Save plan").click()
    kept = page.url
    page.goto("/crate/enter/")
    page.locator("#lines").fill(HEAP)
    page.locator(".typed-row").nth(3).wait_for()
    file = tmp_path / "mine.csv"
    file.write_text("Qty,Type,Color\n3,worm,red bug\n3,worm,red bug\nmany,jerkbait,bone\n1,worm,moonlight\n")
    page.goto("/crate/import/")
    page.get_by_label("The file", exact=True).set_input_files(file)
    page.get_by_role("button", name="Preview").click()
    page.wait_for_url("**/crate/import/*/")
    draft = page.url
    page.goto("/day/")
    day = [f"{page.url}{part}" for part in ("log/", "water/")]
    for address in (*PAGES, kept, draft, *day):
        check(page, address)
    page.context.clear_cookies()
    for address in DOORS:
        check(page, address)
