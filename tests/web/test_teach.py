"""The Teach step: what is asked, what is taken of what was answered, and what one's eye says of one's readings."""

import json
from datetime import date, timedelta

import pytest
from django.core import signing
from django.utils import timezone

from tackle.base.vocabulary import CATEGORIES
from tackle.teach.drill import Pick
from tackle.teach.recall import NEW_A_DAY, due_at
from tests.owner import renewed
from tests.pages import text
from web.domain.crate.models import Lure
from web.domain.plans.selectors import get_basis
from web.domain.waters.models import Reading
from web.domain.waters.services import add_readings
from web.pages.learn import selectors
from web.pages.learn.models import Answer, Guess, Known
from web.pages.learn.services import keep_guess

pytestmark = pytest.mark.django_db


def due(owner):
    return selectors.to_ask(get_basis(owner), selectors.list_known(owner), timezone.now(), timezone.localdate())


def answer(place, seed, card, ago_s=0, key="a"):
    at = int((timezone.now() - timedelta(seconds=ago_s)).timestamp() * 1000)
    return {"id": key, "cell": place.cell, "seed": seed, "card": card, "at": at}


def send(client, *answers, now=None):
    now = now or int(timezone.now().timestamp() * 1000)
    body = json.dumps({"now": now, "answers": list(answers)})
    return client.post("/teach/drill/answers/", body, content_type="application/json")


def picked(question, pick):
    return next((offer.card.id for offer in question.offers if offer.pick is pick), None)


@pytest.mark.parametrize("address", ["", "drill/", "story/worm/", "depth/", "bites/", "debates/"])
def test_pages_ask_little_of_the_database(signed_in, address, django_assert_max_num_queries):
    signed_in.get("/plan/")
    with django_assert_max_num_queries(32):
        assert signed_in.get(f"/teach/{address}").status_code == 200


def test_what_is_met_most_is_asked_first_and_so_many_a_day(wren):
    asked = due(wren)
    assert len(asked) == NEW_A_DAY
    days = [place.days for place, _, _ in asked]
    assert days == sorted(days, reverse=True)
    assert len({place.cell for place, _, _ in asked}) == len(asked)


def test_an_answer_is_taken_once_and_asked_again_when_it_is_due(signed_in, wren):
    (place, seed, question), *_ = due(wren)
    told = answer(place, seed, picked(question, Pick.FIRST), key="one")
    assert send(signed_in, told, told).json() == {"taken": ["one", "one"], "refused": {}}
    assert send(signed_in, told).json()["taken"] == ["one"]
    assert Answer.objects.get().pick == "first"
    known = Known.objects.get()
    assert (known.cell, known.answers) == (place.cell, 1)
    assert due_at(known.state) > timezone.now()
    assert place.cell not in {one.cell for one, _, _ in due(renewed(wren))}


def test_answers_kept_on_a_phone_are_played_again_in_their_order(signed_in, wren):
    (place, seed, question), (other, other_seed, other_question), *_ = due(wren)
    first, wrong = picked(question, Pick.FIRST), picked(question, Pick.WRONG) or picked(question, Pick.DOES)
    again = selectors.next_seed(place.cell, 1)
    second = selectors.make_question(get_basis(wren), place, again)
    entries = [
        answer(place, again, picked(second, Pick.FIRST), 60, "late"), answer(place, seed, wrong, 7200, "early"),
        answer(other, other_seed, picked(other_question, Pick.FIRST), 3600, "between"),
    ]  # fmt: skip
    assert set(send(signed_in, *entries).json()["taken"]) == {"late", "early", "between"}
    assert list(Answer.objects.values_list("key", flat=True)) == ["early", "between", "late"]
    known = Known.objects.get(cell=place.cell)
    assert known.answers == 2
    assert known.state["last_review"][:16] == (timezone.now() - timedelta(seconds=60)).isoformat()[:16]
    assert first


def test_a_clock_that_is_behind_is_put_right(signed_in, wren):
    (place, seed, question), *_ = due(wren)
    behind = int((timezone.now() - timedelta(hours=3)).timestamp() * 1000)
    told = {**answer(place, seed, picked(question, Pick.FIRST)), "at": behind - 5000}
    send(signed_in, told, now=behind)
    assert timezone.now() - Answer.objects.get().at < timedelta(minutes=1)


def test_what_is_no_answer_is_refused_and_the_rest_taken(signed_in, wren):
    (place, seed, question), *_ = due(wren)
    good = answer(place, seed, picked(question, Pick.FIRST), key="good")
    bad = [
        7, {**good, "id": "seed", "seed": "x"}, {**good, "id": "at", "at": 5}, {**good, "id": "cell", "cell": ""},
        {**good, "id": "soon", "at": good["at"] + 10**7}, {**good, "id": "long", "card": "x" * 70},
    ]  # fmt: skip
    told = send(signed_in, *bad, good).json()
    assert told["taken"] == ["good"]
    assert set(told["refused"]) == {"0", "seed", "at", "soon", "cell", "long"}
    gone = {**good, "id": "gone", "cell": "worm nowhere bright shad"}
    other = {**good, "id": "other", "card": "no-such-card"}
    assert send(signed_in, gone, other).json()["taken"] == ["gone", "other"]  # the plan has changed: let go
    assert Answer.objects.count() == 1
    for body, status in (("{", 422), ('{"answers": 3}', 422), (json.dumps({"answers": [1] * 300}), 422)):
        assert signed_in.post("/teach/drill/answers/", body, content_type="application/json").status_code == status
    assert signed_in.post("/teach/drill/answers/", {"answers": "x"}).status_code == 415


def test_the_drill_shows_whom_it_asks_and_what_the_log_says(signed_in, wren):
    page = text(signed_in.get("/teach/drill/"))
    for place, _, question in due(wren):
        assert f'data-cell="{place.cell}"' in page
        assert all(offer.card.name in page for offer in question.offers)
    assert "has no advice on it" in page
    assert "Your log:" in page
    assert "new" in page


@pytest.mark.parametrize("category", sorted(CATEGORIES))
def test_a_new_account_has_stories_without_colours(intruder, category):
    for address in (f"/teach/story/{category}/", f"/teach/story/{category}.pdf"):
        answer = intruder.get(address)
        assert answer.status_code in (200, 404), address


def test_the_story_begins_with_one_and_stops_where_little_is_added(signed_in, wren):
    page = text(signed_in.get("/teach/story/worm/"))
    assert "begin with" in page
    assert "One worm:" in page
    assert "The second:" in page
    assert signed_in.get("/teach/story/worm.pdf").content.startswith(b"%PDF")
    assert signed_in.get("/teach/story/nonesuch/").status_code == 404
    signed_in.post("/plan/settle/casting-jig/", {"what": "trailers", "value": "on"})
    assert "One casting jig:" in text(signed_in.get("/teach/story/casting-jig/"))
    Lure.objects.filter(tray__owner=wren).delete()
    assert "begin with" in text(signed_in.get("/teach/story/worm/"))


def guess(client, share, true_in=40.0):
    key = signing.dumps(["tannic", "bright", true_in], salt="teach.depth")
    return text(client.post("/teach/depth/read/", {"key": key, "down": f"{share / 1.6:.3f}"}))


def test_an_eye_that_is_off_is_told_and_offered_for_a_reading(signed_in, wren):
    water = wren.waters.first().pk
    told = [Reading(date=date(2026, 11, 1), visibility_in=30, stain="tannic")]
    add_readings(wren, water, told, "A reading.")
    assert signed_in.get(f"/teach/depth/for/{water}/").content == b""
    for share in (1.22, 1.31, 1.25, 1.2):
        assert "too deep" in guess(signed_in, share)
    assert "You read tea water" in guess(signed_in, 1.27)
    offer = text(signed_in.get(f"/teach/depth/for/{water}/"))
    assert "30 in would be 24 in" in offer
    reading = Reading.objects.get(water=water, visibility_in=30, stain="tannic")
    signed_in.post(f"/teach/depth/for/{water}/right/", {"reading": str(reading.pk)})
    reading.refresh_from_db()
    assert reading.visibility_in == pytest.approx(24, abs=0.5)
    assert signed_in.get(f"/teach/depth/for/{water}/").content == b""  # once is enough
    assert signed_in.post(f"/teach/depth/for/{water}/right/", {"reading": "0"}).status_code == 422


def test_a_picture_that_was_not_ours_is_no_reading(signed_in, wren):
    assert signed_in.post("/teach/depth/read/", {"key": "made-up", "down": "0.5"}).status_code == 422
    assert "Let it sink first" in guess(signed_in, 0)
    assert not Guess.objects.exists()
    keep_guess(wren, "silt", "bright", 20.0, 20.0)
    assert "milky" in text(signed_in.get("/teach/depth/?stain=silt&light=overcast")).lower()


@pytest.mark.parametrize(("pick", "said"), [("stay", "Right."), ("role", "Not here.")])
def test_a_bite_is_read(signed_in, pick, said):
    page = text(signed_in.post("/teach/bites/", {"case": "whole", "pick": pick}))
    assert said in page
    assert "right colour" in page
    assert signed_in.get("/teach/bites/?case=nonesuch").status_code == 404
    assert signed_in.post("/teach/bites/", {"case": "whole", "pick": "nonesuch"}).status_code == 302


def test_both_sides_of_a_debate_are_heard_with_the_days_and_the_log(signed_in):
    page = text(signed_in.get("/teach/debates/"))
    assert "hang on it" in page or "hangs on it" in page
    assert "Black-blue here too" in page
    assert "Green or brown" in page
    assert "Your log:" in page
    assert "None of your days" in page
