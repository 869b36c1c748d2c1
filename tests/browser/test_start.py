"""From sign-up to a list to buy, counted in presses."""

import time

from playwright.sync_api import expect


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
    press(page.get_by_role("button", name="This is my water"))
    expect(page.locator(".start-first li")).to_have_count(3)
    press(page.get_by_role("button", name="Popper"))
    expect(page.get_by_role("button", name="Popper")).to_have_attribute("aria-pressed", "true")
    press(page.get_by_role("link", name="Next: what I own"))
    press(page.get_by_role("link", name="Nothing yet"))
    expect(page.locator(".shopping > li").first).to_be_visible()
    assert presses <= 8
    assert time.monotonic() - began < 60
