"""The crate filled and kept: by keyboard, from a file, from a picture, by dragging."""

import re

from playwright.sync_api import expect

COLOURS = ("watermelon red", "red bug", "black", "green pumpkin red flk", "chart blk")
LINES = [
    f"{n % 4 + 1} {what} {colour} {n % 3 + 4}"
    for n, (what, colour) in enumerate(
        [
            ("worm", COLOURS[0]),
            ("worm", COLOURS[1]),
            ("worm", COLOURS[2]),
            ("jig", COLOURS[3]),
            ("sq crank", COLOURS[4]),
        ]
        * 4
    )
]


def test_twenty_lures_by_keyboard(page):
    page.goto("/crate/enter/")
    line = page.get_by_label("A lure in one line")
    for number, words in enumerate(LINES, 1):
        expect(line).to_be_focused()
        page.keyboard.type(words)
        page.keyboard.press("Enter")
        expect(page.locator(".entered-list li")).to_have_count(number)
        expect(line).to_have_value("")
    assert len(LINES) == 20
    page.keyboard.type("2 sq crank chart blk 2.5")
    offers = page.locator(".offers input")
    expect(offers.first).to_be_checked()
    page.keyboard.press("ArrowDown")
    expect(offers.nth(1)).to_be_checked()
    page.keyboard.press("Enter")
    expect(page.locator(".entered-list li").first).to_contain_text("Chartreuse, blue back")
    page.keyboard.type("3 worm green pumpkin")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("Which colour is")
    page.keyboard.press("Enter")
    expect(page.locator(".entered-list li").first).to_contain_text("Green pumpkin, black fleck")
    page.locator(".entered-list li").first.get_by_role("button", name="Undo").click()
    expect(page.locator(".entered-list li").first).to_contain_text("Chartreuse, blue back")
    line.focus()
    page.keyboard.type("3 something odd")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("Name a category")
    expect(line).to_have_value("3 something odd")
    page.complaints.clear()  # the console reports the 422 that this was


def test_a_file_with_three_bad_rows_is_put_right_and_undone(page, tmp_path):
    path = tmp_path / "mine.csv"
    path.write_text("Qty,Type,Color\n3,worm,red bug\nmany,jerkbait,bone\n2,anvil,black\n1,worm,moonlight\n")
    page.goto("/crate/import/")
    page.get_by_label("The file", exact=True).set_input_files(path)
    page.get_by_role("button", name="Read it").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("1 row is understood, 3 need a hand")
    accept = page.get_by_role("button", name="Take in")
    expect(accept).to_be_disabled()
    page.locator("#row-1").get_by_label("count").fill("2")
    page.locator("#row-1").get_by_label("count").press("Tab")
    expect(page.get_by_role("heading", level=1)).to_contain_text("2 need a hand")
    page.locator("#row-2").get_by_label("category").select_option("popper")
    expect(page.get_by_role("heading", level=1)).to_contain_text("1 needs a hand")
    page.locator("#row-3").get_by_label("colour").select_option(index=1)
    expect(page.get_by_role("heading", level=1)).to_contain_text("4 rows are understood.")
    accept.click()
    expect(page.locator("#notice")).to_contain_text("4 lures from mine.csv are in.")
    expect(page.locator(".tally-left")).to_contain_text("36 compartments")
    page.get_by_role("link", name="History").click()
    page.get_by_role("button", name="Undo").first.click()
    page.goto("/crate/")
    expect(page.locator(".tally-left")).to_contain_text("32 compartments")


def test_a_tray_is_read_from_its_picture(page, settings):
    settings.DEMO_CAMERA = True
    page.goto("/crate/picture/")
    page.get_by_role("button", name="Photograph it").click()
    canvas = page.get_by_role("application")
    expect(page.get_by_label("What lies in it")).to_have_value("jerkbait")
    canvas.focus()
    before = page.locator("#grid-field").input_value()
    page.keyboard.press("Shift+ArrowRight")
    assert page.locator("#grid-field").input_value() != before
    box = canvas.bounding_box()
    page.mouse.move(box["x"] + 0.92 * box["width"], box["y"] + 0.9 * box["height"])
    page.mouse.down()
    page.mouse.move(box["x"] + 0.91 * box["width"], box["y"] + 0.88 * box["height"])
    page.mouse.up()
    page.get_by_role("button", name="Read it").click()
    seen = page.locator(".seen > li")
    expect(seen.first).to_be_visible()
    count = seen.count()
    assert count >= 3  # the corners were set by eye; how well a tray is read is tested without a browser
    seen.first.focus()
    page.keyboard.press("1")
    expect(seen.first).to_contain_text("is added")
    seen.nth(1).focus()
    page.keyboard.press("x")
    expect(seen).to_have_count(count - 1)


def test_a_lure_is_dragged_to_another_tray_and_undone(page):
    page.goto("/crate/")
    well = page.locator(".well", has_text="Goldie")
    target = page.locator("section.tray", has_text="Topwaters")
    well.drag_to(target.locator(".tray-head"))
    expect(page.locator("#notice")).to_contain_text("is moved to tray B")
    expect(page.locator("section.tray", has_text="Topwaters")).to_contain_text("Goldie")
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("section.tray", has_text="Jerkbaits")).to_contain_text("Goldie")


def test_finding_and_dismissing_on_a_phone(phone):
    phone.goto("/crate/")
    phone.get_by_placeholder("Find by name").fill("bone")
    expect(phone.locator(".tally-left")).to_contain_text("5 compartments")
    phone.goto("/crate/")
    gaps = int(re.search(r"(\d+) gaps", phone.get_by_role("heading", level=1).inner_text())[1])
    gap = phone.locator(".finding-gap", has_text="jerkbait")
    gap.get_by_text("Done, later or never").click()
    gap.get_by_placeholder("why not").fill("never at night")
    gap.get_by_role("button", name="Dismiss").click()
    expect(phone.get_by_role("heading", level=1)).to_contain_text(f"{gaps - 1} gaps")
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390
