"""A whole box typed in at once, and what it leaves open answered by keys, on a slow line."""

import json
from pathlib import Path

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.django_db(transaction=True)
CORE = Path(__file__).parents[1] / "core"
LINES = [
    json.loads(line)["line"]
    for name in ("scribbled.jsonl", "typed_lines.jsonl")
    for line in (CORE / name).read_text().splitlines()
][:150]
MOST_PRESSES = 60


def test_150_lines_are_answered_in_sixty_presses_on_a_slow_line_and_none_is_lost(page):
    page.goto("/crate/enter/")
    sent = []

    def slow(route):
        sent.append(json.loads(route.request.post_data))
        page.wait_for_timeout(4000)
        if len(sent) == 3:
            return route.abort()  # the signal was gone: it is sent once more
        return route.continue_()

    page.route("**/enter/answers/", slow)
    page.get_by_label("Your lures, one a line").fill("\n".join(LINES))
    questions = page.locator(".typed-question:visible")
    expect(questions.first).to_be_visible()
    page.get_by_role("button", name="Answer with keys 1 to 5").click()
    presses = 1
    while True:
        while questions.count():
            before = questions.count()
            page.keyboard.press("1")
            presses += 1
            expect(questions).to_have_count(before - 1, timeout=1000)  # at once, whatever the server does
        with page.expect_response("**/enter/read/", timeout=300000):
            pass
        page.wait_for_timeout(300)
        if not questions.count():
            break
        questions.first.locator("button").first.focus()
    assert presses <= MOST_PRESSES
    expect(page.locator("#typed-foot")).not_to_contain_text("to answer first")
    page.get_by_role("button", name="Save 1").click()
    expect(page.locator("#notice")).to_contain_text("typed in")
    expect(page.get_by_label("Your lures, one a line")).to_have_value("")
    page.complaints.remove("Failed to load resource: net::ERR_FAILED")  # the one that was cut off above
