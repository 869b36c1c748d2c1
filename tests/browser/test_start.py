"""From sign-up to a list to buy, counted in presses; and from the front page to the page for the wall."""

import time

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import PHONE, open_page


def test_from_sign_up_to_what_to_buy_in_eight_presses(page):
    began, presses = time.monotonic(), 0

    def press(what):
        nonlocal presses
        presses += 1
        what.click()

    page.goto("/account/")
    page.get_by_role("button", name="Sign out").click()
    page.goto("/account/sign-up/")
    page.get_by_label("Username").fill("alder")
    page.get_by_label("Email").fill("alder@example.org")
    page.get_by_label("Password", exact=True).fill("a-crate-of-wax-9")
    page.get_by_label("Password confirmation").fill("a-crate-of-wax-9")
    press(page.get_by_role("button", name="Make the account"))
    expect(page.get_by_role("heading", level=1)).to_contain_text("most like your water")
    press(page.locator(".kind", has_text="Upland reservoir"))
    expect(page.locator("#so-far")).to_contain_text("You would meet")
    press(page.get_by_role("button", name="Add water"))
    expect(page.locator(".start-first li")).to_have_count(3)
    press(page.get_by_role("button", name="Popper"))
    expect(page.get_by_role("button", name="Popper")).to_have_attribute("aria-pressed", "true")
    press(page.get_by_role("link", name="Next: what I own"))
    press(page.get_by_role("link", name="Nothing yet"))
    expect(page.locator(".shopping > li").first).to_be_visible()
    assert presses <= 8
    assert time.monotonic() - began < 60


@pytest.fixture
def stranger(browser, live_server, transactional_db, request):
    options = {"has_touch": True, "is_mobile": True} if request.param == PHONE else {}
    page = open_page(browser, live_server, viewport=request.param, **options)
    yield page
    page.context.close()
    assert page.complaints == []


MORE = "How many colours, how sure, print"


def tab_to(page, name, role="button", most=60):
    """Presses Tab until what has focus is called so, and says by which way it was found."""
    wanted = page.locator("summary", has_text=name) if role == "summary" else page.get_by_role(role, name=name)
    for _ in range(most):
        page.keyboard.press("Tab")
        if wanted.and_(page.locator(":focus")).count():
            return
    raise AssertionError(f"{name} was not reached in {most} stops")


def is_wall(page, link):
    """Whether a link leads to the page for the wall. The browser's own viewer of PDFs is no part of the walk."""
    page.wait_for_load_state("networkidle")
    return page.request.get(link.get_attribute("href")).body().startswith(b"%PDF")


@pytest.mark.parametrize("stranger", [{"width": 1280, "height": 800}], indirect=True)
def test_by_keyboard_alone_from_the_front_page_to_the_wall(stranger):
    page = stranger
    page.goto("/")
    tab_to(page, "Lowland reservoir", "radio")
    page.keyboard.press("ArrowDown")
    expect(page.get_by_role("radio", name="Upland reservoir")).to_be_checked()
    expect(page.locator("#front-board h1")).to_contain_text("jerkbait")
    tab_to(page, "How deep you can see a white lure", "slider")
    before = page.locator("#front-board").inner_text()
    page.keyboard.press("ArrowRight")
    expect(page.locator("#front-board")).not_to_have_text(before)
    tab_to(page, "Use this water")
    page.keyboard.press("Enter")
    page.wait_for_url("**/start/lures/")
    tab_to(page, "Popper")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Popper")).to_have_attribute("aria-pressed", "true")
    tab_to(page, "Next: what I own", "link")
    page.keyboard.press("Enter")
    page.wait_for_url("**/start/owned/")
    page.keyboard.press("g")
    page.keyboard.press("p")
    page.wait_for_url("**/plan/")
    tab_to(page, MORE, "summary", most=120)
    page.keyboard.press("Enter")
    tab_to(page, "A4", "link")
    assert is_wall(page, page.locator(":focus"))


@pytest.mark.parametrize("stranger", [PHONE], indirect=True)
def test_by_touch_alone_from_the_front_page_to_the_wall(stranger):
    page = stranger
    page.goto("/")
    page.get_by_text("Marsh", exact=True).tap()
    expect(page.locator("#front-board h1")).to_contain_text("inshore paddletail")
    page.get_by_role("button", name="Use this water").tap()
    page.wait_for_url("**/start/lures/")
    page.get_by_role("link", name="Next: what I own").tap()
    page.get_by_role("link", name="Nothing yet").tap()
    expect(page.locator(".shopping > li").first).to_be_visible()
    page.get_by_text("More", exact=True).tap()
    page.get_by_role("link", name="Plan").first.tap()
    page.wait_for_url("**/plan/")
    page.get_by_text(MORE).tap()
    page.get_by_role("link", name="A4").tap(trial=True)  # nothing lies over it
    assert is_wall(page, page.get_by_role("link", name="A4"))


def test_pictures_are_taken_along(page):
    page.goto("/plan/?category=jerkbait")
    page.get_by_text(MORE).click()
    for kind, start in (("svg", b"<svg"), ("png", b"\x89PNG")):
        for button in page.locator(f"[data-take={kind}]").all():
            with page.expect_download() as taken:
                button.click()
            assert taken.value.path().read_bytes().startswith(start)
    page.goto("/waters/")
    with page.expect_download() as taken:
        page.locator("[data-take=svg]").click()
    drawn = taken.value.path().read_text()
    assert ("<script" in drawn, "hx-" in drawn, "Jan" in drawn) == (False, False, True)
