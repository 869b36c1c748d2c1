"""One browser a session; a page signed in as the demo angler."""

import time
from datetime import UTC, datetime

import pytest
from playwright.sync_api import expect, sync_playwright

PHONE = {"width": 390, "height": 844}
PATIENCE_MS = 40_000  # a machine with much else to do is slow, and no wrong answer
expect.set_options(timeout=PATIENCE_MS)


@pytest.fixture(scope="session")
def browser():
    flags = ["--no-sandbox", "--disable-background-networking", "--disable-component-update", "--disable-sync"]
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=flags)
        yield browser
        browser.close()


def open_page(browser, live_server, **options):
    """A page that fails its test on anything the console reports."""
    context = browser.new_context(base_url=live_server.url, reduced_motion="reduce", **options)
    context.clock.install(time=datetime.now(UTC))
    page = context.new_page()
    page.set_default_timeout(PATIENCE_MS)
    page.complaints = []
    page.on("console", lambda said: page.complaints.append(said.text) if said.type in ("error", "warning") else None)
    page.on("pageerror", lambda error: page.complaints.append(str(error)))
    return page


def until(page, asked, told=None):
    """Waits for a promise to give what is true. Playwright's own wait takes the promise itself for true."""
    latest = time.monotonic() + PATIENCE_MS / 1000
    while not page.evaluate(asked, told):
        assert time.monotonic() < latest, f"never true: {asked}"
        page.wait_for_timeout(50)


def sign_in(page):
    page.goto("/account/sign-in/?next=/waters/")
    page.get_by_label("Username").fill("wren")
    page.get_by_label("Password").fill("open-the-crate")
    page.get_by_role("button", name="Sign in").click()
    page.wait_for_url("**/waters/**")


@pytest.fixture
def page(browser, live_server, transactional_db):
    from web.demo.loader import load_demo

    load_demo()
    page = open_page(browser, live_server, viewport={"width": 1280, "height": 800})
    sign_in(page)
    yield page
    page.context.close()
    assert page.complaints == []


@pytest.fixture
def phone(browser, live_server, transactional_db):
    from web.demo.loader import load_demo

    load_demo()
    page = open_page(browser, live_server, viewport=PHONE, has_touch=True, is_mobile=True)
    sign_in(page)
    yield page
    page.context.close()
    assert page.complaints == []
