"""The crate filled and kept: by keyboard, from a file, from a picture, by dragging."""

import re

from playwright.sync_api import expect

# As an angler types them, and what is meant: how many, what, which colour.
LINES = [
    ("2 shallow crank red craw", "2", "Shallow crankbait", "Red craw"),
    ("chart black", "1", "Shallow crankbait", "Chartreuse black-back"),
    ("worm 7in junebug", "1", "Worm", "Dark purple green-flake"),
    ("red bug x3", "3", "Worm", "Red bug"),
    ("black", "1", "Worm", "Black"),
    ("half dozen tubes smoke pepper", "6", "Creature", "Smoke black-flake"),
    ("jerkbait 110 clear ghost", "1", "Jerkbait", "Clear ghost"),
    ("popper bone, 3", "3", "Popper", "Bone"),
    ("spinnerbait chart/wht ½ oz", "1", "Spinnerbait", "Chartreuse and white"),
    ("2x lipless gold", "2", "Lipless crankbait", "Gold dark-back"),
    ("frog white", "1", "Frog", "Flat white"),
    ("black (2)", "2", "Frog", "Black"),
    ("swim jig bluegill 3/8", "1", "Swim jig", "Sunfish mix with orange strands"),
    ("football jig 3/4 brown orange", "1", "Structure jig", "Brown orange-tip"),
    ("trailer blk blu", "1", "Jig trailer", "Black blue-flake"),
    ("spoon gold 14 g", "1", "Spoon", "Plain gold"),
    ("swimbait 4in pearl", "1", "Swimbait", "Pearl white"),
    ("walker bone", "1", "Walking topwater", "Bone"),
    ("inline spinner silver 1/8", "1", "Inline spinner", "Plain silver"),
    ("finesse worm gp", "1", "Finesse worm", "Green pumpkin black-flake"),
]  # fmt: skip


def shown(page, number):
    row = page.locator(".typed-row").nth(number)
    return [row.get_by_label("How many").input_value()] + [
        row.get_by_label(name).evaluate("one => one.selectedOptions[0].textContent") for name in ("What", "Colour")
    ]


def test_twenty_lines_typed_at_human_speed_end_as_meant(page):
    page.goto("/crate/enter/")
    box = page.get_by_label("Your lures, one a line")
    expect(box).to_be_focused()
    for number, (line, *_) in enumerate(LINES):
        page.keyboard.type(line, delay=12)
        if number % 5 == 2:
            page.wait_for_timeout(350)  # a pause to think: what was typed is read, and what follows is not lost
        page.keyboard.press("Enter")
        expect(box).to_be_focused()
    expect(page.locator(".typed-row")).to_have_count(len(LINES))
    expect(page.get_by_role("button", name="Save 20 lines")).to_be_enabled()
    assert box.input_value().split("\n")[:-1] == [line for line, *_ in LINES]
    for number, (_, *meant) in enumerate(LINES):
        assert shown(page, number) == meant
    page.keyboard.press("Control+Enter")
    expect(page.locator(".entered-list li")).to_contain_text("and 14 more")
    expect(page.locator(".typed-row")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".entered-list li")).to_have_count(0)


def test_what_is_asked_is_answered_by_keyboard_while_the_list_goes_on(page):
    page.goto("/crate/enter/")
    box = page.get_by_label("Your lures, one a line")
    box.fill("worm moonlight\njerkbait bone 4\npopper bone")
    rows = page.locator(".typed-row")
    expect(rows.nth(1)).to_contain_text("how many, or how long?")
    rows.nth(0).get_by_label("Colour").focus()
    page.keyboard.type("Red b")
    page.keyboard.press("Tab")
    expect(rows.nth(0)).not_to_contain_text("Which colour")
    rows.nth(1).get_by_label("How many").focus()
    page.keyboard.type("4")
    page.keyboard.press("Tab")
    expect(rows.nth(1)).not_to_contain_text("how many")
    rows.nth(1).get_by_label("Length").fill("11 cm")
    page.keyboard.press("Enter")
    box.press("Control+End")
    page.keyboard.type("\nfrog black")
    expect(page.get_by_role("button", name="Save 4 lines")).to_be_enabled()
    expect(rows.nth(0).get_by_label("Colour")).to_have_value("red-bug")
    page.get_by_role("button", name="Save 4 lines").click()
    expect(page.locator(".entered-list li")).to_contain_text("Red bug")


def test_what_is_typed_while_a_row_is_answered_stays(page):
    page.goto("/crate/enter/")
    page.get_by_label("Your lures, one a line").fill("jerkbait bone 4")
    row = page.locator(".typed-row").first
    expect(row).to_contain_text("how many, or how long?")
    page.route("**/enter/answer/", lambda route: (page.wait_for_timeout(1500), route.continue_()))
    row.get_by_label("How many").fill("4")
    row.get_by_label("Length").focus()
    with page.expect_request("**/enter/answer/"):
        page.wait_for_timeout(600)
    page.keyboard.type("11 cm")
    expect(row).not_to_contain_text("how many", timeout=10000)
    expect(row.get_by_label("Length")).to_be_focused()
    expect(row.get_by_label("Length")).to_have_value("11 cm")
    page.unroute("**/enter/answer/")
    page.get_by_role("button", name="Save 1 line").click()
    expect(page.locator(".entered-list li")).to_contain_text("4")


def test_an_answer_that_comes_late_does_not_count_the_lines_as_they_were(page):
    page.goto("/crate/enter/")
    box = page.get_by_label("Your lures, one a line")
    box.fill("jerkbait bone 4")
    row = page.locator(".typed-row").first
    expect(row).to_contain_text("how many, or how long?")

    def late(route):
        answer = route.fetch()
        page.wait_for_timeout(2500)
        route.fulfill(response=answer)

    page.route("**/enter/answer/", late)
    row.get_by_label("How many").fill("4")
    with page.expect_response("**/enter/answer/", timeout=20000):
        box.press("Control+End")
        page.wait_for_timeout(900)
        page.keyboard.type("\nfrog black")
    expect(page.locator(".typed-row")).to_have_count(2)
    page.wait_for_timeout(500)
    expect(page.locator("#typed-foot")).to_contain_text("2 lines read")


def test_a_file_with_three_bad_rows_is_put_right_and_undone(page, tmp_path):
    path = tmp_path / "mine.csv"
    path.write_text("Qty,Type,Color\n3,worm,red bug\nmany,jerkbait,bone\n2,anvil,black\n1,worm,moonlight\n")
    page.goto("/crate/import/")
    page.get_by_label("The file", exact=True).set_input_files(path)
    page.get_by_role("button", name="Preview").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("1 row is understood, 3 need a hand")
    accept = page.get_by_role("button", name=re.compile("^Import"))
    expect(accept).to_have_text("Import 1, leave 3")
    wrong = page.locator(".preview-wrong").first
    wrong.get_by_label("count").fill("2")
    wrong.get_by_label("count").press("Tab")
    expect(page.get_by_role("heading", level=1)).to_contain_text("2 need a hand")
    wrong.get_by_label("category").select_option("popper")
    expect(page.get_by_role("heading", level=1)).to_contain_text("1 needs a hand")
    wrong.get_by_label("colour").select_option(index=1)
    expect(page.get_by_role("heading", level=1)).to_contain_text("4 rows are understood.")
    accept.click()
    expect(page.locator("#notice")).to_contain_text("8 lures from mine.csv are in.")
    expect(page.locator(".tally-left")).to_contain_text("40 compartments")
    page.get_by_text("Tools").click()
    page.get_by_role("link", name="History").click()
    page.get_by_role("button", name="Undo").first.click()
    page.goto("/crate/")
    expect(page.locator(".tally-left")).to_contain_text("36 compartments")


def test_a_tray_is_read_from_its_picture(page, settings):
    settings.DEMO_CAMERA = True
    page.goto("/crate/picture/")
    page.get_by_role("button", name="Photograph tray").click()
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
    page.get_by_role("button", name="Read picture").click()
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
    phone.get_by_placeholder("Find a lure").fill("bone")
    expect(phone.locator(".tally-left")).to_contain_text("5 compartments")
    phone.goto("/crate/")
    gaps = int(re.search(r"(\d+) gaps", phone.get_by_role("heading", level=1).inner_text())[1])
    gap = phone.locator(".finding-gap", has_text="jerkbait")
    gap.get_by_text("Not now").click()
    gap.get_by_placeholder("why not").fill("never at night")
    gap.get_by_role("button", name="Don’t suggest again").click()
    expect(phone.get_by_role("heading", level=1)).to_contain_text(f"{gaps - 1} gaps")
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390
