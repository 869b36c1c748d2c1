"""What a hand on the keyboard and an eye that needs large letters meet: the focus stays, nothing runs out of sight."""

import pytest
from playwright.sync_api import expect


@pytest.mark.parametrize("key", ["lock", "drop"])
def test_a_press_on_the_plan_leaves_the_focus_where_it_was(page, key):
    page.goto("/plan/?category=jerkbait")
    button = page.locator(f"[data-{key}]").first
    button.focus()
    with page.expect_response(lambda answer: answer.request.method == "POST"):
        page.keyboard.press("Enter")
    expect(page.locator(".htmx-request, .htmx-settling")).to_have_count(0)
    expect(page.locator("main :focus")).to_have_count(1)


def test_a_press_on_the_crate_and_the_bench_leaves_the_focus_there(page):
    page.goto("/crate/")
    chosen = page.locator(".crate-finder select[name=place]")
    chosen.focus()
    with page.expect_response("**/crate/?*"):
        page.keyboard.press("ArrowDown")
    expect(page.locator("select[name=place]:focus")).to_have_count(1)
    page.goto("/crate/bench/")
    month = page.locator("select[name=first]")
    month.focus()
    with page.expect_response("**/crate/bench/?*"):
        page.keyboard.press("ArrowDown")
    expect(page.locator("select[name=first]:focus")).to_have_count(1)


def test_escape_closes_what_opened_and_gives_the_focus_back(page):
    page.goto("/day/")
    fold = page.locator("main details summary").first
    fold.focus()
    page.keyboard.press("Enter")
    expect(page.locator("main details[open] > summary:focus")).to_have_count(1)
    page.keyboard.press("Escape")
    expect(page.locator("main details:not([open]) > summary:focus")).to_have_count(1)


@pytest.mark.parametrize(("wide", "tall"), [(1280, 800), (390, 844)])
def test_at_twice_the_text_size_no_page_scrolls_sideways(page, wide, tall):
    page.set_viewport_size({"width": wide, "height": tall})
    line = page.context.new_cdp_session(page)
    line.send("Page.setFontSizes", {"fontSizes": {"standard": 32, "fixed": 32}})
    for address in (
        "/waters/", "/plan/?category=jerkbait", "/crate/", "/buy/", "/day/", "/day/new/", "/crate/enter/",
        "/crate/bench/", "/crate/packing/", "/colours/", "/colours/sight/", "/colours/sight/sure/", "/day/learned/",
        "/teach/", "/account/", "/colours/ask/?category=worm&month=5",
    ):  # fmt: skip
        page.goto(address)
        assert page.evaluate("document.documentElement.scrollWidth - innerWidth") <= 0, address


def test_two_colours_side_by_side_change_as_depth_and_clarity_are_moved(page):
    page.goto("/colours/sight/?c=orange-loud&c=green-pumpkin-black&visibility=60+in&depth=2")
    said, canvas = page.locator(".beside-said"), page.locator(".beside-water")
    pixels = "canvas => canvas.toDataURL()"
    first, words = canvas.evaluate(pixels), said.text_content()
    depth = page.get_by_label("How deep")
    depth.focus()
    for _ in range(40):
        page.keyboard.press("ArrowRight")
    assert canvas.evaluate(pixels) != first
    expect(said).not_to_have_text(words)
    expect(said).to_contain_text("steps")
    assert depth.get_attribute("aria-valuetext").endswith("ft")
    clear = page.get_by_label("Visibility", exact=False).nth(1)
    deep = canvas.evaluate(pixels)
    clear.evaluate("range => { range.value = 0; range.dispatchEvent(new Event('input')); }")
    assert canvas.evaluate(pixels) != deep
    page.locator("select[name=fish]").select_option("striper")
    expect(page.locator(".beside-said")).to_contain_text("steps")
    expect(page.locator("canvas.beside-water")).to_have_count(1)
