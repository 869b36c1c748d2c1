"""The whole path, as an angler walks it."""

import re

from playwright.sync_api import expect


def count_in(heading, what):
    return int(re.search(rf"(\d+) {what}", heading.inner_text())[1])


def test_from_sign_in_to_a_gap_closed(page):
    page.get_by_role("link", name="Plan").click()
    page.get_by_role("link", name="Jerkbait").click()
    wanted = page.locator(".set li", has_text="To buy").first.get_by_role("heading").first.inner_text()
    colour = page.locator(".set li", has=page.get_by_role("heading", name=wanted, exact=True))

    page.keyboard.press("g")
    page.keyboard.press("c")
    gap = page.locator(".finding-gap", has_text="jerkbait")
    expect(gap).to_contain_text(wanted)
    heading = page.get_by_role("heading", level=1)
    gaps = count_in(heading, "gaps")
    page.evaluate("window.stillHere = true")
    gap.get_by_role("button", name=re.compile(r"Buy \d")).click()
    expect(page.get_by_label("Colour", exact=True)).not_to_have_value("")
    page.get_by_role("button", name="Add lure").click()
    expect(heading).to_contain_text(f"{gaps - 1} gaps")
    expect(page.locator(".finding-gap", has_text="jerkbait")).to_have_count(0)
    expect(page.locator("#notice")).to_contain_text(f"{wanted} is added.")
    assert page.evaluate("window.stillHere")

    page.goto("/plan/?category=jerkbait")
    expect(colour).to_contain_text("in the tackle box")


def test_add_with_the_keyboard_edit_in_place_delete_and_undo(page):
    page.goto("/crate/")
    page.keyboard.press("a")
    expect(page.get_by_label("Category", exact=True)).to_be_focused()
    page.keyboard.type("Worm")
    expect(page.locator("#id_card option[value=red-bug]")).to_be_attached()
    page.keyboard.press("Tab")
    colour = page.locator("#id_card")
    expect(colour).to_be_focused()
    # Chosen at once: a browser forgets the first letters that are typed in a list when it is slow.
    colour.select_option("red-bug")
    expect(page.locator("#colour-stick").get_by_role("img", name="Red bug (RB)")).to_be_visible()
    expect(colour).to_have_value("red-bug")
    page.get_by_label("Name as printed").fill("Ember")
    page.get_by_label("Tray", exact=True).select_option(label="E · Bank bag")
    page.get_by_label("Name as printed").press("Enter")
    well = page.locator(".well", has_text="Ember")
    expect(well).to_contain_text("E5")

    well.get_by_role("button").click()
    page.get_by_label("Count").fill("7")
    page.get_by_role("button", name="Save lure").click()
    expect(page.locator(".well", has_text="Ember")).to_contain_text("●●●●●●●")

    page.locator(".well", has_text="Ember").get_by_role("button").click()
    page.get_by_role("button", name="Remove lure").click()
    expect(page.locator("#notice")).to_contain_text("Red bug is taken out.")
    expect(page.locator(".well", has_text="Ember")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".well", has_text="Ember")).to_contain_text("●●●●●●●")


def test_a_colour_chosen_while_the_colours_of_the_category_are_on_their_way_stays(page):
    def late(route):
        page.wait_for_timeout(1500)
        route.continue_()

    page.goto("/crate/")
    page.keyboard.press("a")
    page.get_by_label("Category", exact=True).select_option("worm")
    expect(page.locator("#id_card option[value=red-bug]")).to_be_attached()
    page.route("**/crate/colours/?category=worm", late)
    page.locator("#id_category").dispatch_event("change")
    page.locator("#id_card").select_option("red-bug")
    expect(page.get_by_role("img", name="Red bug (RB)").first).to_be_visible()
    page.wait_for_timeout(2500)
    expect(page.locator("#id_card")).to_have_value("red-bug")
    expect(page.locator("#colour-stick").get_by_role("img", name="Red bug (RB)")).to_be_visible()


def test_cover_is_set_on_one_bar_by_keyboard_and_by_dragging(page):
    page.get_by_role("link", name="Tarn Hollow").click()
    page.get_by_role("button", name="Change water").click()
    cover = page.get_by_role("group", name="Cover")
    cover.get_by_role("button", name="docks").press("Enter")
    expect(cover.get_by_role("button", name="docks")).to_have_text("docks 25 %")
    cover.get_by_role("button", name="docks").press("ArrowRight")
    expect(cover.get_by_role("button", name="docks")).to_have_text("docks 30 %")
    cover.get_by_role("button", name="wood").click()
    expect(cover.get_by_role("button", name="wood")).to_have_attribute("aria-pressed", "false")
    border = cover.locator("[data-border='1']").bounding_box()
    page.mouse.move(border["x"] + 7, border["y"] + 10)
    page.mouse.down()
    page.mouse.move(border["x"] - 60, border["y"] + 10, steps=4)
    page.mouse.up()
    told = {name: cover.locator(f"[name=cover_{name}]").input_value() for name in ("open", "rock", "docks")}
    assert sum(map(int, told.values())) == 100
    page.get_by_role("button", name="Save water").click()
    page.get_by_role("button", name="Change water").click()
    for name, value in told.items():
        expect(cover.locator(f"[name=cover_{name}]")).to_have_value(f"{value}.0")


def test_days_typed_under_the_year_are_kept_and_undone(page):
    page.get_by_role("link", name="Tarn Hollow").click()
    days = page.get_by_label("Days fished in July")
    days.fill("10")
    days.press("Tab")
    expect(page.get_by_role("heading", level=1)).to_contain_text("65 days")
    expect(page.get_by_label("Days fished in August")).to_be_focused()
    page.reload()
    expect(days).to_have_value("10")
    days.fill("lots")
    days.press("Tab")
    expect(page.get_by_role("alert").first).to_contain_text("is not a number")
    expect(days).to_have_value("lots")
    page.complaints.clear()  # the console reports the 422 that this was


def test_an_edge_of_a_month_is_dragged_and_kept(page):
    page.get_by_role("link", name="Tarn Hollow").click()
    before = page.locator("[data-cell]").all_inner_texts()
    handle = page.locator("#edge-7-low")
    box = handle.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - 60, steps=6)
    page.mouse.up()
    expect(page.locator("#notice")).to_contain_text("July: low is changed.")
    moved = float(page.locator("#edge-7-low").get_attribute("data-inches"))
    assert moved < 25
    after = page.locator("[data-cell]").all_inner_texts()
    assert after != before
    page.reload()
    assert float(page.locator("#edge-7-low").get_attribute("data-inches")) == moved
    assert page.locator("[data-cell]").all_inner_texts() == after

    page.locator("#edge-7-low").focus()
    page.keyboard.press("ArrowDown")
    expect(page.locator("#edge-7-low")).not_to_have_attribute("data-inches", str(moved))
    expect(page.locator("#notice")).to_contain_text("July: low is changed.")
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("#notice")).to_contain_text("Undone")
    assert float(page.locator("#edge-7-low").get_attribute("data-inches")) == moved


def test_a_reading_is_noted_on_a_phone(phone):
    phone.get_by_label("Note a reading").fill("9 in silt ramp")
    phone.get_by_role("button", name="Save r").click()
    expect(phone.locator(".readings:not(.sightings) li").first).to_contain_text("9 in")


def test_pointing_at_a_stick_lights_its_days_and_a_cell_says_why(page):
    page.goto("/plan/?category=jerkbait")
    page.locator(".set li", has_text="Silver blue-back").hover()
    expect(page.locator(".cell-lit").first).to_be_visible()
    page.get_by_role("button", name="Clear water, sunny").click()
    expect(page.get_by_role("region", name="Why")).to_contain_text("Tarn Hollow")


def test_on_a_phone(phone):
    phone.goto("/plan/?category=worm")
    expect(phone.locator(".cell .code").first).to_be_visible()
    for address in ("/waters/", "/plan/", "/crate/"):
        phone.goto(address)
        assert phone.evaluate("document.documentElement.scrollWidth") <= 390


def test_ask_answers_while_the_slider_moves_and_its_address_can_be_shared(phone):
    phone.goto("/colours/ask/?category=worm&see=48 in&light=broken")
    expect(phone.get_by_role("heading", level=1)).to_contain_text("green pumpkin")
    phone.get_by_label("How deep you can see, by slider").fill("4")
    expect(phone.get_by_role("heading", level=1)).to_contain_text("Start with black")
    expect(phone.get_by_label("How deep can you see a white lure?")).to_have_value("8 in")
    phone.wait_for_url(re.compile(r"see=8(\+|%20)in"))
    phone.goto(phone.url)
    expect(phone.get_by_role("heading", level=1)).to_contain_text("Start with black")
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390


def test_colours_are_found_while_typing(page):
    page.goto("/colours/")
    page.keyboard.press("/")
    page.keyboard.type("melon")
    expect(page.get_by_role("status").first).to_contain_text(re.compile(r"of 1\d\d"))
    expect(page.get_by_role("link", name="Watermelon red-flake").first).to_be_visible()
    expect(page.get_by_role("link", name="Red craw")).to_have_count(0)


def in_the_set(page):
    return page.locator(".set li").get_by_role("heading").all_inner_texts()


def test_lock_drop_and_fewer_colours_on_the_board(page):
    page.goto("/plan/?category=jerkbait")
    kept, dropped, *_ = before = in_the_set(page)
    lock = page.get_by_role("button", name=f"Lock {kept} in the set")
    lock.click()
    expect(lock).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("2")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Two jerkbait colours")
    assert kept in in_the_set(page)
    page.keyboard.press("3")
    page.get_by_role("button", name=f"Drop {dropped}", exact=True).click()
    expect(page.get_by_role("button", name=f"{dropped} ↩ let it back")).to_be_visible()
    page.reload()
    page.get_by_role("button", name="Clear my choices").click()
    expect(page.get_by_role("button", name="Clear my choices")).to_have_count(0)
    assert in_the_set(page) == before


def test_ticked_off_in_the_shop(phone):
    phone.goto("/buy/")
    rows = phone.locator(".shopping > li")
    many = rows.count()
    rows.first.get_by_role("button", name=re.compile(r"I bought \d")).click()
    expect(phone.locator("#notice")).to_contain_text("It is in the tackle box.")
    expect(rows).to_have_count(many - 1)
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390


def with_trailers(page):
    page.get_by_text("Rulebooks, waters, months").click()
    return page.get_by_role("button", name="With trailers")


def test_jig_and_trailer_on_one_board_and_how_sure_it_is(page):
    page.goto("/plan/?category=casting-jig")
    expect(page.get_by_role("heading", level=1)).to_contain_text(re.compile("trailers? cover"))
    with_trailers(page).click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("casting jig colours cover")
    page.get_by_text("How many colours, how sure, print").click()
    page.get_by_role("button", name="How sure is it?").click()
    expect(page.get_by_role("region", name="How sure")).to_contain_text("6 rulebooks")


def test_two_plans_are_compared(page):
    page.goto("/plan/overview/")
    page.get_by_label("Plan name").fill("Before")
    page.get_by_role("button", name="Save plan").click()
    page.goto("/plan/?category=jerkbait")
    gone = in_the_set(page)[0]
    page.get_by_role("button", name=f"Drop {gone}", exact=True).click()
    expect(page.get_by_role("button", name=f"{gone} ↩ let it back")).to_be_visible()
    page.goto("/plan/overview/")
    page.get_by_role("link", name="Before").click()
    page.get_by_role("link", name="Compare with now").click()
    expect(page.locator(".overview section", has_text="Jerkbait")).to_contain_text(f"went {gone}")
    page.go_back()
    page.get_by_role("button", name="Plan with it").click()
    expect(page.locator("#notice")).to_contain_text("What it was is kept as “Before Before”.")
    page.goto("/plan/?category=jerkbait")
    expect(page.get_by_role("button", name=f"Drop {gone}", exact=True)).to_be_visible()


def test_the_crate_is_checked_against_a_kept_plan(page):
    page.goto("/plan/overview/")
    page.get_by_label("Plan name").fill("Cold months")
    page.get_by_role("button", name="Save plan").click()
    page.get_by_role("button", name="Check the tackle box against it").click()
    page.goto("/crate/")
    expect(page.locator(".lead .under")).to_contain_text("of “Cold months”")


def test_long_work_says_so(page):
    page.goto("/plan/?category=casting-jig")
    page.route("**/settle/**", lambda route: (page.wait_for_timeout(900), route.continue_()))
    with_trailers(page).click(no_wait_after=True)
    expect(page.get_by_text("Working …")).to_be_visible()
    expect(page.get_by_role("heading", level=1)).to_contain_text("casting jig colours cover")
    expect(page.get_by_text("Working …")).to_be_hidden()
