"""Whatever is done to the crate can be taken back, and moving things about loses none."""

import pytest
from django.core.exceptions import ValidationError
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tackle.intake.sheet_rows import Draft
from tests.pages import text
from web.domain.crate import services
from web.domain.crate.models import Lure, Tray
from web.domain.history.models import Change
from web.domain.history.record import undo

pytestmark = pytest.mark.django_db
FIELDS = ("pk", "tray", "category", "card", "name", "count", "size_in", "weight_oz", "sound", "note", "price")
MOVES = ("move", "split", "merge", "bring", "put away", "make over")

acts = st.lists(
    st.tuples(
        st.sampled_from([*MOVES, "edit", "delete", "add", "tray", "rename", "scrap"]),
        st.integers(0, 99),
        st.integers(0, 99),
        st.integers(1, 4),
    ),
    min_size=1,
    max_size=6,
)


def state(owner):
    trays = Tray.objects.filter(owner=owner).values_list("pk", "letter", "name", "rows")
    return sorted(Lure.objects.filter(tray__owner=owner).values_list(*FIELDS), key=str), sorted(trays)


def pieces(owner):
    """How many there are of each colour of each category."""
    counts = {}
    for lure in Lure.objects.filter(tray__owner=owner):
        counts[lure.category, lure.card] = counts.get((lure.category, lure.card), 0) + lure.count
    return counts


def act(owner, what, one, other, count):
    lures = list(Lure.objects.filter(tray__owner=owner).order_by("pk"))
    trays = list(Tray.objects.filter(owner=owner))
    lure, tray = lures[one % len(lures)], trays[other % len(trays)]
    if what == "move":
        return services.move_lure(owner, lure.pk, tray.pk, lures[other % len(lures)].pk)
    if what == "split":
        return services.split_lure(owner, lure.pk, count, tray.pk)
    if what == "merge":
        return services.merge_lures(owner, lure.pk, lures[other % len(lures)].pk)
    if what == "bring":
        return services.bring(
            owner, [(lure.category, lure.card, count), (lure.category, lures[other % len(lures)].card, 1)]
        )
    if what == "put away":
        return services.put_away(owner, lure.category, lure.card)
    if what == "make over":
        return services.make_over(owner, lure.pk, min(count, lure.count), lure.card, "Sand it")
    if what == "edit":
        return services.edit_lure(owner, lure.pk, count=count, note="changed", price="4.50")
    if what == "tray":
        return services.make_tray(owner, f"Odds {count}", "teal")
    if what == "rename":
        return services.edit_tray(owner, tray.pk, name=f"Renamed {count}", rows=count + 4)
    if what == "scrap":
        return services.delete_tray(owner, trays[-1].pk)
    if what == "delete":
        return services.delete_lure(owner, lure.pk)
    return services.add_lure(owner, tray=tray, category="worm", card="black-plain", count=count)


@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(acts)
def test_every_change_is_taken_back_and_no_piece_is_lost_by_moving(wren, done):
    start = state(wren)
    last = Change.objects.order_by("-pk").values_list("pk", flat=True).first() or 0
    for what, *rest in done:
        before = pieces(wren)
        try:
            act(wren, what, *rest)
        except ValidationError:
            assert pieces(wren) == before
            continue
        if what in MOVES:
            assert pieces(wren) == before
    for change in Change.objects.filter(owner=wren, pk__gt=last, undone=False).order_by("-pk"):
        undo(wren, "crate", change.pk)
    assert state(wren) == start


def taken_back(client, change):
    return text(client.post(f"/crate/undo/{change.pk}/", headers={"HX-Request": "true"}))


def test_a_tray_gone_comes_back_and_then_what_was_in_it(signed_in, wren):
    made_tray = services.make_tray(wren, "Odds", "teal")
    tray = services.tray_made(made_tray)
    made = services.add_lure(wren, tray=tray, category="worm", card="black-plain", count=1)
    assert "There is something in the tray: move that first." in taken_back(signed_in, made_tray)
    gone = services.delete_lure(wren, Lure.objects.get(tray=tray).pk)
    tray_gone = services.delete_tray(wren, tray.pk)
    assert "The tray it was in is gone" in taken_back(signed_in, gone)
    other = services.tray_made(services.make_tray(wren, "Another", "teal"))
    assert "There is another of that name or letter by now." in taken_back(signed_in, tray_gone)
    services.delete_tray(wren, other.pk)
    for change in (tray_gone, gone, made, made_tray):
        assert "Undone: " in taken_back(signed_in, change)
    assert not Tray.objects.filter(owner=wren, letter="G").exists()


def test_taking_back_never_loses_a_later_change(signed_in, wren):
    lure = Lure.objects.filter(tray__owner=wren).first()
    counted = services.edit_lure(wren, lure.pk, count=9)
    noted = services.edit_lure(wren, lure.pk, note="chewed")
    assert "take the later change back first" in taken_back(signed_in, counted)
    assert Lure.objects.get(pk=lure.pk).note == "chewed"
    assert "Undone: " in taken_back(signed_in, noted)
    assert "Undone: " in taken_back(signed_in, counted)


def test_an_early_change_that_tells_of_fewer_fields_is_taken_back(signed_in, wren):
    lure = Lure.objects.filter(tray__owner=wren).first()
    change = services.edit_lure(wren, lure.pk, count=9)
    for step in change.steps:
        for state in (step["before"], step["after"]):
            for name in ("weight_oz", "depth_ft", "sound", "price", "condition", "note", "picture_id"):
                del state[name]
    change.save()
    assert "Undone: " in taken_back(signed_in, change)
    assert Lure.objects.get(pk=lure.pk).count != 9


def test_taking_an_import_back_asks_little_of_the_database(wren, django_assert_max_num_queries):
    tray = Tray.objects.filter(owner=wren).first()
    before = Lure.objects.count()
    draft = Draft(category="worm", card="black-plain")
    change = services.take_in(wren, [draft] * 80, [tray] * 80, "80 lures are in.")
    assert Lure.objects.count() == before + 80
    with django_assert_max_num_queries(10):
        undo(wren, "crate", change.pk)
    assert Lure.objects.count() == before


def test_a_trays_change_is_taken_back(signed_in, wren):
    tray = Tray.objects.filter(owner=wren).first()
    changed = services.edit_tray(wren, tray.pk, name="Renamed", rows=7)
    undo(wren, "crate", changed.pk)
    tray.refresh_from_db()
    assert (tray.name, tray.rows) != ("Renamed", 7)


def test_trays_go_on_after_z(wren):
    letters = [services.tray_made(services.make_tray(wren, f"Tray {number}", "teal")).letter for number in range(22)]
    assert letters[:2] == ["G", "H"]
    assert letters[-2:] == ["AA", "AB"]
    from web.domain.crate.selectors import list_trays_with_places

    assert [tray.letter for tray in list_trays_with_places(wren)][-3:] == ["Z", "AA", "AB"]
