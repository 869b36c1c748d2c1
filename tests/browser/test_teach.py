"""The drill in a browser: five places learned, asked again a day later, and picks kept where there is no signal."""

from datetime import timedelta

import pytest
from django.utils import timezone
from playwright.sync_api import expect

from tackle.teach.recall import due_at
from tests.browser.conftest import until
from web.common.accounts.models import User
from web.pages.learn.models import Answer, Known

HERE = "section.question:visible"


def pick(page, kind="first"):
    """Picks one of a kind in the question that is shown, where there is one; its place."""
    question = page.locator(HERE)
    cell = question.get_attribute("data-cell")
    wanted = question.locator(f'[data-pick="{kind}"]')
    (wanted if wanted.count() else question.locator("[data-pick]")).first.click()
    expect(question.locator(".pick-verdict:visible").first).to_be_visible()
    question.get_by_role("button", name="Next").click()
    return cell


def sent(page, count):
    expect(page.locator("#drill-sent")).to_have_text("")
    until(page, "indexedDB.databases().then((all) => all.length > 0)")
    for _ in range(800):
        if Answer.objects.count() >= count:
            return
        page.wait_for_timeout(50)
    raise AssertionError(f"{Answer.objects.count()} of {count} answers came")


@pytest.fixture
def days_later(monkeypatch):
    """Moves the server's clock."""
    real = timezone.now

    def move(days):
        monkeypatch.setattr(timezone, "now", lambda: real() + timedelta(days=days))

    return move


def test_five_places_are_learned_and_asked_again_when_they_are_due(page, days_later):
    page.goto("/teach/drill/?category=worm")
    learned = [pick(page, "first" if place < 3 else "wrong") for place in range(5)]
    sent(page, 5)
    assert {one.cell for one in Known.objects.all()} == set(learned)
    page.goto("/teach/drill/?category=worm")
    now = set(page.locator("section.question").evaluate_all("all => all.map((one) => one.dataset.cell)"))
    assert not now & set(learned)  # each is due in some minutes at the soonest
    days_later(1)
    due = {one.cell for one in Known.objects.all() if due_at(one.state) <= timezone.now()}
    assert due
    page.goto("/teach/drill/?category=worm")
    asked = page.locator("section.question").evaluate_all("all => all.map((one) => one.dataset.cell)")
    assert set(asked[: len(due)]) == due
    assert len(set(asked[len(due) :]) & set(learned)) == 0
    expect(page.locator(".known b").filter(has_text="%").first).to_be_visible()


def test_the_keyboard_picks_and_goes_on(page):
    page.goto("/teach/drill/")
    first = page.locator(HERE).get_attribute("data-cell")
    page.keyboard.press("2")
    expect(page.locator(f"{HERE} [aria-pressed=true] kbd")).to_have_text("2")
    page.keyboard.press("Enter")
    expect(page.locator(HERE)).not_to_have_attribute("data-cell", first)
    expect(page.locator(HERE)).to_be_focused()
    page.keyboard.press("1")
    page.keyboard.press("Enter")
    sent(page, 2)


def test_picks_without_a_signal_are_kept_and_sent_once(phone):
    phone.goto("/teach/drill/")
    phone.get_by_role("button", name="Save on this phone").click()
    expect(phone.locator("[data-kept-said]")).to_contain_text("On this phone")
    phone.context.set_offline(True)
    phone.goto("/teach/drill/")
    first = pick(phone)
    expect(phone.locator("#drill-sent")).to_contain_text("1 of your picks is kept on this phone")
    phone.goto("/teach/drill/")  # opened anew without a signal: what was answered is not asked again
    second = pick(phone, "wrong")
    assert second != first
    assert not Answer.objects.exists()
    phone.complaints.clear()
    phone.context.set_offline(False)
    phone.evaluate("window.dispatchEvent(new Event('online'))")
    sent(phone, 2)
    assert [one.cell for one in Answer.objects.order_by("at")] == [first, second]
    wren = User.objects.get(username="wren")
    assert wren.known_places.count() == 2
    phone.complaints.clear()


def test_a_lure_sinks_and_is_read(page):
    page.goto("/teach/depth/?stain=tannic&light=bright")
    page.get_by_label("How far down").focus()
    for _ in range(20):
        page.keyboard.press("ArrowRight")
    expect(page.locator("#down-said")).to_contain_text("10 hundredths")
    page.get_by_role("button", name="Gone: this deep").click()
    expect(page.locator(".depth-true")).to_contain_text("in: ")
    page.get_by_role("link", name="Another water").click()
    page.wait_for_url("**/teach/depth/?stain=tannic&light=bright")


def test_on_a_phone_what_is_used_less_is_behind_one_press(phone):
    phone.goto("/day/")
    expect(phone.get_by_role("link", name="What to throw")).to_be_visible()
    expect(phone.get_by_role("link", name="Learn")).to_be_hidden()
    phone.get_by_role("button", name="More").click()
    phone.get_by_role("link", name="Learn").click()
    phone.wait_for_url("**/teach/")
