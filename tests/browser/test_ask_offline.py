"""What to throw without a signal: the phone answers anew, for what is along, by the rules that came with a trip."""

import re
from dataclasses import replace

import pytest
from django.utils import timezone
from playwright.sync_api import expect

from tackle.base.vocabulary import Forage, Light
from tackle.schools.top_choice import ask
from tests.browser.test_on_the_water import open_water, trip  # noqa: F401
from web.common.accounts.models import User
from web.domain.plans.selectors import get_basis
from web.domain.trips.selectors import get_evening


def preferences(outing, category, **told):
    """What the rulebooks say at this hour of a trip, where some of it was told."""
    owner, now = User.objects.get(username="wren"), timezone.now().astimezone(outing.water.zone).hour
    basis, evening = get_basis(owner), get_evening(owner, outing)
    hour = next(hour for one, hour in zip(evening.skies, evening.hours, strict=True) if one.hour == now)
    return ask(basis.books, basis.palette.sold_in(category), replace(hour.of(category), **told))


@pytest.mark.parametrize(
    ("seen", "light", "food"), [("9", "bright", ""), ("5 ft", "overcast", "shad"), ("150 cm", "bright", "perch")]
)
def test_what_to_throw_is_answered_anew_from_what_is_kept(phone, trip, seen, light, food):  # noqa: F811
    open_water(phone, trip)
    aboard = phone.evaluate("JSON.parse(document.getElementById('trip-data').textContent).aboard.jerkbait")
    names = phone.evaluate("JSON.parse(document.getElementById('trip-data').textContent).cards")
    phone.context.set_offline(True)
    phone.goto("/colours/ask/")
    phone.get_by_label("Category").select_option("jerkbait")
    phone.locator(f".picks label:has(input[name=light][value={light}])").tap()
    phone.get_by_label("Food").select_option(food)
    phone.get_by_label("How deep can you see a white lure?").fill(seen)
    answer = phone.locator("#answer")
    expect(answer).to_contain_text("No signal: this is for")
    expect(answer).to_contain_text("Tarn Hollow")
    inches = {"9": 9.0, "5 ft": 60.0, "150 cm": 150 / 2.54}[seen]
    told = {"visibility_in": inches, "light": Light(light)} | ({"forage": (Forage(food),)} if food else {})
    asked = preferences(trip, "jerkbait", **told)
    good = [card.id for card in asked.as_good() if card.id in aboard]
    expect(answer.locator("h1")).to_contain_text("Start with" if good else "Nothing that is along is a first choice")
    if good:
        expect(answer.locator("h1")).to_contain_text(re.compile(rf"Start with {names[good[0]]['name']}\b", re.I))
    phone.get_by_label("How deep can you see a white lure?").fill("murky")
    expect(answer).to_contain_text("“murky” is no visibility")
    phone.get_by_label("How deep can you see a white lure?").fill("40")
    phone.get_by_label("Category").select_option("frog")
    expect(answer).to_contain_text("choose one of these")
    phone.context.set_offline(False)
    phone.complaints.clear()
