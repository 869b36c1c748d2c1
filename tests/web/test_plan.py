import csv
import re
from datetime import date

import pytest
import time_machine

from tackle.base.store import STORE, Store
from tackle.check.held import held
from tackle.check.reach import Planned
from tackle.colours.palette import house_palette
from tackle.cover.missed import find_missed
from tackle.cover.stability import drawn_waters
from tests.owner import renewed
from tests.pages import printed, text
from web.common.accounts.models import User
from web.domain.crate.models import Lure
from web.domain.crate.selectors import list_lures
from web.domain.plans import answering, selectors, tasks
from web.domain.waters.models import Water
from web.pages.plans import board
from web.pages.plans.kinds import in_season
from web.pages.shopping.selectors import list_for

pytestmark = pytest.mark.django_db
HTMX = {"HX-Request": "true"}


def page(client, **query):
    return text(client.get("/plan/", query))


def words(html):
    """What is read on a page, without its marks."""
    return " ".join(re.sub(r"<[^>]+>", "", html).split())


def setting(client, what, value, category="worm", to="in"):
    entry = {"what": what, "value": value, "category": category, "to": to}
    return text(client.post("/plan/settings/", entry, headers=HTMX))


def test_the_plan_is_computed_from_what_is_stored(signed_in, wren):
    assert "worm colours cover all" in words(page(signed_in, category="worm"))
    tarn = Water.objects.get(name="Tarn Hollow")
    tarn.year.exclude(month=7).update(days=0)
    tarn.year.filter(month=7).update(low_in=60, usual_in=60, high_in=60, hours=["day"])
    tarn.readings.all().delete()
    User.objects.update(rare_days=0)
    renewed(wren)
    text = page(signed_in, category="worm")
    assert "all 7 days" in words(text)
    assert "Dirty water" not in text


def test_a_salt_water_asks_for_no_worms(signed_in, wren):
    User.objects.update(rare_days=0)
    renewed(wren)
    assert "all 62 days" in words(page(signed_in, category="worm"))
    assert "all 105 days" in words(page(signed_in, category="jerkbait"))


def only(client, *schools):
    """Follows some schools and no other."""
    for school in schools:
        setting(client, "school", school)
    for school in {"ladder", "menu", "sheen"} - set(schools):
        text = setting(client, "school", school, to="out")
    return text


def test_a_school_that_is_silent_leaves_days_unanswered(signed_in, wren):
    text = only(signed_in, "spark")
    assert "are not covered" in text
    assert "not covered" in text


def test_the_last_school_and_water_stay(signed_in, wren):
    only(signed_in, "sheen")
    assert "at least one rulebook" in setting(signed_in, "school", "sheen", to="out")
    assert "is not a rulebook" in setting(signed_in, "school", "guesswork")
    waters = Water.objects.filter(owner=wren)
    setting(signed_in, "water", waters[0].pk, to="out")
    assert "needs a water" in setting(signed_in, "water", waters[1].pk, to="out")


def test_a_cell_says_why(signed_in, wren):
    told = text(signed_in.get("/plan/why/worm/dirty/bright/", headers=HTMX))
    assert "Tarn Hollow" in told
    assert all(f"<h4>{school}" in told for school in ("Clarity first", "Match the forage", "Light first"))
    for address in ("worm/dirty/noon", "worm/deep/bright", "spear/dirty/bright"):
        assert signed_in.get(f"/plan/why/{address}/").status_code == 404


def test_an_empty_plan_says_what_to_do(intruder):
    assert "No days to plan for yet" in page(intruder)


def test_another_anglers_water_cannot_be_taken_in(intruder, wren):
    water = Water.objects.get(name="Tarn Hollow")
    setting(intruder, "water", water.pk)
    assert "No days to plan for yet" in page(intruder)


def test_queries_are_bounded(signed_in, wren, django_assert_max_num_queries):
    with django_assert_max_num_queries(20):
        page(signed_in)


def test_a_plan_may_be_for_part_of_the_year(signed_in, wren):
    User.objects.update(rare_days=0)
    setting(signed_in, "first_month", "7")
    assert "all 7 days" in words(setting(signed_in, "last_month", "7"))
    setting(signed_in, "first_month", "11")
    assert "all 8 days" in words(setting(signed_in, "last_month", "3"))
    assert "Months go from 1 to 12" in setting(signed_in, "last_month", "13")


def settle(client, what, value, category="jerkbait"):
    return client.post(f"/plan/settle/{category}/", {"what": what, "value": value}, headers=HTMX)


def test_colours_are_locked_dropped_swapped_and_let_go(signed_in, wren):
    names = chosen(page(signed_in, category="jerkbait"))
    assert len(names) > 1
    assert "tiger" in chosen(text(settle(signed_in, "lock", "tiger")))
    assert names[0] not in chosen(text(settle(signed_in, "ban", names[0])))
    spare = next(card.id for card in house_palette().sold_in("jerkbait") if card.id not in {*names, "tiger"})
    swapped = chosen(text(settle(signed_in, "swap", f"{names[1]} {spare}")))
    assert spare in swapped
    assert names[1] not in swapped
    assert chosen(text(settle(signed_in, "free", ""))) == names


def chosen(text):
    return [part.split('"')[0] for part in text.split('data-points="')[1:]]


def test_fewer_colours_answer_what_the_curve_says(signed_in, wren):
    before = len(chosen(page(signed_in, category="jerkbait")))
    told = text(settle(signed_in, "at_most", str(before - 1)))
    assert len(chosen(told)) == before - 1
    assert re.search("go unanswered|will do", told)


@pytest.mark.parametrize(("what", "value"), [("lock", "mauve"), ("at_most", "0"), ("swap", "bone"), ("paint", "bone")])
def test_what_cannot_be_settled_is_said(signed_in, wren, what, value):
    assert settle(signed_in, what, value).status_code == 422


def test_with_everything_dropped_the_plan_explains_itself(signed_in, wren):
    setting(signed_in, "category", "spoon")
    for card in house_palette().sold_in("spoon"):
        told = text(settle(signed_in, "ban", card.id, "spoon"))
    assert "No spoon covers any" in told
    assert "Every colour of this category is dropped" in told


def keep(client, wren, name):
    client.post("/plan/keep/", {"name": name})
    return f"/plan/kept/{wren.kept_plans.first().pk}/"


def test_a_kept_plan_shows_what_it_showed_and_what_changed_since(signed_in, wren):
    kept = text(signed_in.post("/plan/keep/", {"name": "Spring"}, follow=True))
    assert "Spring is kept" in kept
    assert "Nothing it was worked out from has changed" in kept
    address = f"/plan/kept/{wren.kept_plans.get().pk}/"
    setting(signed_in, "school", "spark")  # the plan of now, not the one kept
    assert "Nothing it was worked out from has changed" in text(signed_in.get(address))
    Water.objects.get(name="Tarn Hollow").year.filter(month__lte=8).update(days=0)
    list_lures(wren).filter(category="worm").delete()
    renewed(wren)
    page = text(signed_in.get(address))
    assert "Tarn Hollow: 61" in page or "Tarn Hollow: 60" in page
    assert "The tackle box: 6 colours went." in page
    assert re.search(r"(6[01]) of \1 days", page)  # of readings of the day of the demo, so it moves with it
    assert "16 of 16 days" in text(signed_in.get(f"{address}again/"))
    compared = text(signed_in.get("/plan/compare/", {"one": address.split("/")[3], "other": "now"}))
    assert "The rulebooks followed changed." in compared
    assert '<b class="bad">went</b>' in compared or '<b class="good">came</b>' in compared
    signed_in.post(f"{address}delete/")
    assert not wren.kept_plans.exists()
    assert signed_in.get(address).status_code == 404


def test_other_water_on_as_many_days_is_a_change(signed_in, wren):
    address = keep(signed_in, wren, "Spring")
    Water.objects.get(name="Tarn Hollow").year.update(stain="tannic")
    renewed(wren)
    page = text(signed_in.get(address))
    assert "Tarn Hollow: as many days, in other water, light or food." in page


def test_a_kept_plan_becomes_the_plan_once_more(signed_in, wren):
    settle(signed_in, "lock", "bone", "jerkbait")
    setting(signed_in, "first_month", "11")
    address = keep(signed_in, wren, "Winter")
    settle(signed_in, "free", "", "jerkbait")
    setting(signed_in, "first_month", "3")
    setting(signed_in, "school", "spark")
    said = text(signed_in.post(f"{address}take-up/", follow=True))
    assert "the waters, rulebooks and choices of Winter. What it was is kept as “Before Winter”." in said
    assert "is kept as" not in text(signed_in.post(f"{address}take-up/", follow=True))
    plan = wren.plans.get()
    assert (plan.first_month, plan.schools, plan.choices.get(category="jerkbait").lock) == (
        11,
        ["ladder", "menu", "sheen"],
        ["bone"],
    )
    wren.waters.all().delete()
    assert "None of the waters of Winter is left." in text(signed_in.post(f"{address}take-up/", follow=True))


def test_the_crate_is_checked_against_kept_plans_too(signed_in, wren):
    setting(signed_in, "category", "spoon")
    address = keep(signed_in, wren, "With spoons")
    setting(signed_in, "category", "spoon", to="out")
    before = text(signed_in.get("/crate/"))
    assert "<small>spoon</small>" not in before
    signed_in.post(f"{address}check/", {"back": "/plan/overview/", "to": "on"})
    crate = text(signed_in.get("/crate/"))
    assert "“With spoons”" in crate
    assert "<small>spoon</small>" in crate
    away = {"back": "https://elsewhere.example/", "to": "off"}
    assert signed_in.post(f"{address}check/", away)["Location"] == address
    assert "<small>spoon</small>" not in text(signed_in.get("/crate/"))
    old = wren.kept_plans.get()
    del old.content["terms"]
    old.save()
    assert "Check the tackle box against it" not in text(signed_in.get("/plan/overview/"))
    assert "Save such a plan again first" in text(signed_in.post(f"{address}check/", {"to": "on"}, follow=True))


def test_kept_plans_are_compared_as_they_were_and_computed_again(signed_in, wren):
    address = keep(signed_in, wren, "Spring")
    number = address.split("/")[3]
    list_lures(wren).filter(category="jerkbait").delete()
    renewed(wren)
    page = text(signed_in.get("/plan/compare/", {"one": number, "other": f"{number}-again"}))
    assert "Spring, as it was on" in page
    assert "Spring, computed again" in page
    assert "The tackle box: " in page
    assert signed_in.get("/plan/compare/", {"one": "99999"}).status_code == 404
    made = text(signed_in.post("/plan/keep/", {"name": "Anew", "again": number}, follow=True))
    assert "Anew is kept." in made
    newest, oldest = wren.kept_plans.all()
    assert newest.content["terms"] == oldest.content["terms"]
    assert newest.content["made_from"]["crate"] != oldest.content["made_from"]["crate"]


def test_a_plan_of_no_water_that_is_left_says_so(signed_in, wren):
    address = keep(signed_in, wren, "Spring")
    number = address.split("/")[3]
    signed_in.post(f"{address}check/", {"to": "on"})
    wren.waters.all().delete()
    renewed(wren)
    assert signed_in.get(f"{address}again/").status_code == 404
    assert signed_in.get(address).status_code == 200
    assert "computed again" not in text(signed_in.get("/plan/compare/", {"one": number}))
    assert signed_in.get("/crate/").status_code == 200


def test_at_most_six_kept_plans_are_checked(signed_in, wren):
    addresses = [keep(signed_in, wren, f"Plan {number}") for number in range(7)]
    for address in addresses:
        last = text(signed_in.post(f"{address}check/", {"to": "on"}, follow=True))
    assert "checked against 6 kept plans already" in last
    assert wren.kept_plans.filter(checked=True).count() == 6


def test_a_gap_names_the_plans_that_ask_for_it(signed_in, wren):
    Lure.objects.filter(tray__owner=wren, category="jig-trailer").delete()
    renewed(wren)
    settled(signed_in, "casting-jig", "trailers", "with")
    address = keep(signed_in, wren, "With trailers")
    settled(signed_in, "casting-jig", "trailers", "without")
    signed_in.post(f"{address}check/", {"to": "on"})
    crate = " ".join(text(signed_in.get("/crate/")).split())
    gaps = crate.split('aria-label="What the check finds"')[1].split("<article")
    trailers = [gap for gap in gaps if ">Gap<" in gap and "<small>jig trailer</small>" in gap]
    assert trailers
    assert all("wanted by <a" in gap for gap in trailers)
    both = [gap for gap in gaps if ">Gap<" in gap and "<small>jerkbait</small>" in gap]
    assert all("wanted by the plan and <a" in gap for gap in both)
    again = keep(signed_in, wren, "The same with trailers once more")
    old = wren.kept_plans.get(name="With trailers")
    wren.kept_plans.filter(pk=again.split("/")[3]).update(content=old.content)
    signed_in.post(f"{again}check/", {"to": "on"})
    twice = text(signed_in.get("/crate/"))
    days = [re.search(r">([^<>]+ not covered)", gap) for gap in trailers]
    assert all(one[1] in twice for one in days if one)  # one plan kept twice is one plan


def test_a_kept_plan_needs_a_name_and_is_its_owners(signed_in, intruder, wren, stranger):
    signed_in.force_login(wren, backend="django.contrib.auth.backends.ModelBackend")
    signed_in.post("/plan/keep/", {"name": " "})
    assert not wren.kept_plans.exists()
    signed_in.post("/plan/keep/", {"name": "Mine"})
    address = f"/plan/kept/{wren.kept_plans.get().pk}/"
    signed_in.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    assert signed_in.get(address).status_code == 404
    assert {signed_in.post(f"{address}{act}/").status_code for act in ("delete", "check", "take-up")} == {404}
    assert signed_in.get(f"{address}again/").status_code == 404
    assert signed_in.get("/plan/compare/", {"one": wren.kept_plans.get().pk}).status_code == 404


def settled(client, category, what, value=""):
    return text(settle(client, what, value, category))


def test_a_jig_is_planned_with_its_trailers(signed_in):
    text = settled(signed_in, "casting-jig", "trailers", "with")
    assert re.search(r"casting jigs? and \w+ trailers? cover", text)
    fewer = settled(signed_in, "casting-jig", "at_most", "2")
    assert "One casting jig and one trailer cover" in fewer
    assert "cannot be set" in settled(signed_in, "worm", "trailers", "with")
    assert "casting jig colours cover" in settled(signed_in, "casting-jig", "trailers", "without")


def test_jigs_are_planned_in_pairs_whatever_is_owned_unless_told_not_to(signed_in, wren):
    assert re.search(r"casting jigs? and \w+ trailers? cover", page(signed_in, category="casting-jig"))
    assert "casting jig colours cover" in settled(signed_in, "casting-jig", "trailers", "without")
    wren.plans.get().choices.all().delete()
    Lure.objects.filter(tray__owner=wren, category="jig-trailer").delete()
    renewed(wren)
    assert re.search(r"casting jigs? and \w+ trailers? cover", page(signed_in, category="casting-jig"))


def test_how_sure_says_what_agreement_costs(signed_in):
    told = text(signed_in.get("/plan/sure/worm/"))
    assert "on one rulebook alone" in told or "alone</b>:" in told
    assert "If the visibility were half" in told
    assert "would satisfy all 6 rulebooks" in told
    assert signed_in.get("/plan/sure/spinnerbait/").status_code == 404


def test_the_travel_box_holds_what_it_is_told_to(signed_in):
    assert "lures" in text(signed_in.get("/plan/travel/"))
    three = text(signed_in.post("/plan/travel/", {"value": "3"}, follow=True))
    assert "Three lures cover" in " ".join(three.split())
    wrong = signed_in.post("/plan/travel/", {"value": "0"})
    assert wrong.status_code == 422
    assert "holds 1 to 40 lures" in text(wrong)


def test_crossover_is_offered_where_fresh_and_salt_meet(signed_in, wren):
    assert 'aria-pressed="true" title="Among sets' in setting(signed_in, "crossover", "on", "jerkbait")
    assert "jerkbait colours cover" in page(signed_in, category="jerkbait")
    setting(signed_in, "water", Water.objects.get(owner=wren, name="Sallow Creek").pk, to="out")
    assert "Crossover" not in page(signed_in, category="jerkbait")


def test_the_overview_as_pdf(signed_in):
    response = signed_in.get("/plan/overview.pdf")
    assert response["Content-Type"] == "application/pdf"
    assert response.content.startswith(b"%PDF")


def test_everything_dropped_explains_itself(signed_in, wren):
    choice = wren.plans.get().choices.create(category="worm")
    choice.ban = [card.id for card in house_palette().sold_in("worm")]
    choice.save()
    renewed(wren)
    assert "Every colour of this category is dropped." in page(signed_in, category="worm")


def test_trailers_are_in_the_overview_the_check_and_kept_plans(signed_in, wren):
    settled(signed_in, "casting-jig", "trailers", "with")
    assert "trailer," in text(signed_in.get("/plan/overview/"))
    crate = text(signed_in.get("/crate/"))
    assert "<small>jig trailer</small>" in crate
    kept = text(signed_in.post("/plan/keep/", {"name": "With trailers"}, follow=True))
    assert "Nothing it was worked out from has changed." in kept
    settled(signed_in, "casting-jig", "trailers", "without")
    compared = text(signed_in.get("/plan/compare/"))
    assert 'class="bad">went</b>' in compared


@pytest.mark.parametrize("category", ["worm", "casting-jig"])
def test_a_plan_that_one_worker_made_is_found_by_the_other(signed_in, wren, monkeypatch, category):
    signed_in.post("/plan/settle/casting-jig/", {"what": "trailers", "value": "with"}, headers=HTMX)
    wren.refresh_from_db()
    monkeypatch.setattr(answering, "STORE", Store(20, STORE.disk))
    made = selectors.answer(selectors.get_basis(wren), category)
    monkeypatch.setattr(answering, "STORE", Store(20, STORE.disk))
    monkeypatch.setattr(answering, "make_plan", None)
    found = selectors.answer(selectors.get_basis(wren), category)
    assert found is not made
    assert (found.answer, found.paired) == (made.answer, made.paired)
    with pytest.raises(TypeError):  # another plan is made
        selectors.answer(selectors.in_months(selectors.get_basis(wren), [5, 6]), category)


def test_a_kind_is_thrown_from_a_temperature_that_can_be_set(signed_in, wren):
    page = text(signed_in.get("/plan/?category=walking-topwater"))
    assert "Walking topwater from" in page
    expected = selectors.answer(selectors.get_basis(wren), "walking-topwater").answer.expected_days
    settled(signed_in, "walking-topwater", "thrown", "all")
    wren.refresh_from_db()
    every = selectors.answer(selectors.get_basis(wren), "walking-topwater")
    assert every.answer.expected_days > expected
    assert every.not_thrown_days == 0
    settled(signed_in, "walking-topwater", "thrown", "70 F")
    wren.refresh_from_db()
    warm = selectors.answer(selectors.get_basis(wren), "walking-topwater")
    assert warm.answer.expected_days < expected
    assert warm.answer.expected_days + warm.not_thrown_days == pytest.approx(every.answer.expected_days)
    wrong = signed_in.post("/plan/settle/walking-topwater/", {"what": "thrown", "value": "warm"}, headers=HTMX)
    assert wrong.status_code == 422
    assert "is not a temperature" in text(wrong)
    strips = text(signed_in.get("/plan/kinds/"))
    assert "from 70" in strips
    assert "at its best" in strips


def test_kinds_by_month_leave_out_the_months_that_are_closed(wren):
    spring = in_season(selectors.get_basis(wren), 4)
    assert "jerkbait" in spring
    for water in Water.objects.filter(owner=wren):
        water.closed_months = [4]
        water.save()
    renewed(wren)
    assert in_season(selectors.get_basis(wren), 4) == []


def test_a_missed_role_is_taken_in_with_one_press(signed_in, wren):
    for category in selectors.get_basis(wren).plan.categories:
        missed = find_missed(
            (answered := selectors.answer(selectors.get_basis(wren), category)).request,
            answered.answer,
            house_palette(),
        )
        if missed:
            break
    page = text(signed_in.get(f"/plan/?category={category}"))
    assert "One more colour for" in page
    assert missed[0].card.name.lower() in page
    settled(signed_in, category, "take", missed[0].card.id)
    wren.refresh_from_db()
    pieces = selectors.answer(selectors.get_basis(wren), category).answer.pieces
    assert missed[0].card.id in {piece.card.id for piece in pieces}


def test_the_wall_has_every_kind_and_the_boards_numbers_add_up(signed_in, wren):
    page = printed(signed_in.get("/plan/wall.pdf").content)
    assert "Jerkbait" in page
    assert signed_in.get("/plan/wall.pdf?paper=letter").content.startswith(b"%PDF")
    rows = list(csv.DictReader(signed_in.get("/plan/board/jerkbait.csv").content.decode().splitlines()))
    for row in rows:
        parts = sum(float(row[name]) for name in ("first choice", "will do", "not covered"))
        assert parts == pytest.approx(float(row["days"]), abs=0.051)
    answer = selectors.answer(selectors.get_basis(wren), "jerkbait").answer
    assert sum(float(row["days"]) for row in rows) == pytest.approx(answer.expected_days, abs=0.6)
    assert sum(float(row["first choice"]) for row in rows) == pytest.approx(answer.first_choice_days, abs=0.6)
    assert signed_in.get("/plan/board/flibber.csv").status_code == 404


def test_what_is_shown_of_the_days_adds_up(signed_in):
    for category in ("jerkbait", "casting-jig", "worm"):
        page = " ".join(text(signed_in.get("/plan/", {"category": category})).split())
        shown = words(page)
        whole, parts = re.search(r"(\d+) days = (.*?) A first choice is", shown).groups()
        assert sum(map(int, re.findall(r"\d+", parts))) == int(whole)
        assert f" {whole} days" in shown.split("Clarity first")[0]
        squares = [int(found) for found in re.findall(r'class="cell-days">(?:\d+ of )?(\d+)', page)]
        assert sum(squares) == int(whole)


def test_the_overview_says_of_each_category_what_its_plan_says(signed_in):
    told = words(text(signed_in.get("/plan/overview/")))
    said = re.findall(r"(Worm|Casting jig|Jerkbait|Walking topwater) (\d+) of (\d+) days, (\d+) with a first", told)
    assert len(said) == 4
    for category, covered, days, first in said:
        address = f"/plan/?category={category.lower().replace(' ', '-')}"
        shown = re.search(r"(\d+) days = (.*?) A first choice is", words(text(signed_in.get(address))))
        parts = [int(part) for part in re.findall(r"\d+", shown[2])]
        assert (shown[1], parts[0]) == (days, int(first))
        assert int(covered) <= sum(parts) == int(days)


def test_how_often_a_colour_stays_in_other_years(signed_in, monkeypatch):
    monkeypatch.setattr(tasks, "drawn_waters", lambda waters: drawn_waters(waters, 4))
    told = words(text(signed_in.post("/plan/sure/worm/other-years/", headers=HTMX)))
    stays = re.findall(r"stays in (\d+)", told)
    assert stays
    assert all(0 <= int(one) <= 4 for one in stays)
    assert "Without Clarity first" in told
    assert signed_in.post("/plan/sure/spinnerbait/other-years/", headers=HTMX).status_code == 404


@pytest.mark.parametrize("month", [1, 4, 7, 10, 12])
def test_what_to_throw_this_month_names_the_kinds_and_their_colours(signed_in, wren, month):
    with time_machine.travel(date(2026, month, 15), tick=False):
        told = words(text(signed_in.get("/plan/kinds/")))
        basis = selectors.get_basis(wren)
        fished = any(basis.core[water.pk].months[month].days for water in basis.every_water)
        assert ("Begin with" in told) == fished
        assert ("You do not fish in" in told) != fished


def test_whatever_one_throws_is_asked_about_at_once(signed_in):
    told = text(signed_in.get("/colours/ask/", {"category": "any", "see": "30 in", "light": "bright", "month": "6"}))
    assert "Throw " in told
    assert 3 >= told.count('class="ask-school"') > 0
    cold = text(signed_in.get("/colours/ask/", {"category": "any", "see": "30 in", "light": "bright", "temp": "38 F"}))
    assert "walking topwater" not in words(cold.split("Throw ")[1].split("</h1>")[0]).lower()


def test_plan_square_gap_shopping_list_and_trip_say_the_same_of_first_choices(signed_in, wren):
    """One maker of each number: the pages of the demo name no other."""
    basis = selectors.get_basis(wren)
    _, shopping = list_for(wren)
    for each in selectors.answers(basis):
        mine = {(lure.category, lure.card) for lure in owned_cards(wren)}
        reached = held(Planned(each.request, each.answer), basis.palette).reached(mine)
        assert shopping.owned[each.category].first == pytest.approx(reached.first)
        whole = held(Planned(each.request, each.answer), basis.palette).reached(
            {(piece.category, piece.card) for piece in each.answer.pieces}
        )
        assert whole.first == pytest.approx(each.answer.first_choice_days)
        assert whole.days == pytest.approx(each.answer.answered_days)
        shown = sum(cell.tally.first_choice for row in board.cover_board(each, "").rows for cell in row.cells)
        assert shown == pytest.approx(each.answer.first_choice_days)


def owned_cards(owner):
    return [one.lure for one in selectors.get_owned(owner).stock if one.lure.count]
