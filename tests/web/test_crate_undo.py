"""Whatever is done to the crate can be taken back, and moving things about loses none."""

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from web.crate import changes
from web.crate.models import Change, Lure, Tray

pytestmark = pytest.mark.django_db
FIELDS = ("pk", "tray", "category", "card", "name", "count", "size_in", "weight_oz", "sound", "note", "price")
MOVES = ("move", "split", "merge", "bring")

acts = st.lists(
    st.tuples(
        st.sampled_from([*MOVES, "edit", "delete", "add"]), st.integers(0, 99), st.integers(0, 99), st.integers(1, 4)
    ),
    min_size=1,
    max_size=6,
)


def state(owner):
    return sorted(Lure.objects.filter(tray__owner=owner).values_list(*FIELDS), key=str)


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
        return changes.move_lure(owner, lure.pk, tray, lures[other % len(lures)].pk)
    if what == "split":
        return changes.split_lure(owner, lure.pk, count, tray)
    if what == "merge":
        return changes.merge_lures(owner, lure.pk, lures[other % len(lures)].pk)
    if what == "bring":
        return changes.bring(owner, lure.category, lure.card, count)
    if what == "edit":
        return changes.keep_lure(owner, lure, count=count, note="changed", price="4.50")
    if what == "delete":
        return changes.delete_lure(owner, lure.pk)
    return changes.keep_lure(owner, Lure(), tray=tray, category="worm", card="black-plain", count=count)


@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(acts)
def test_every_change_is_taken_back_and_no_piece_is_lost_by_moving(wren, done):
    start = state(wren)
    last = Change.objects.order_by("-pk").values_list("pk", flat=True).first() or 0
    for what, *rest in done:
        before = pieces(wren)
        try:
            act(wren, what, *rest)
        except changes.ValidationError:
            assert pieces(wren) == before
            continue
        if what in MOVES:
            assert pieces(wren) == before
    for change in Change.objects.filter(owner=wren, pk__gt=last, undone=False).order_by("-pk"):
        changes.undo(wren, change.pk)
    assert state(wren) == start


def test_a_change_whose_tray_is_gone_cannot_be_taken_back(signed_in, wren):
    tray = changes.make_tray(wren, "Odds", "teal")
    made = changes.keep_lure(wren, Lure(), tray=tray, category="worm", card="black-plain", count=1)
    lure = Lure.objects.get(tray=tray)
    gone = changes.delete_lure(wren, lure.pk)
    changes.delete_tray(wren, tray)
    response = signed_in.post(f"/crate/undo/{gone.pk}/", headers={"HX-Request": "true"})
    assert "The tray it was in is gone." in response.content.decode()
    assert changes.undo(wren, made.pk).startswith("Undone")


def test_trays_go_on_after_z(wren):
    letters = [changes.make_tray(wren, f"Tray {number}", "teal").letter for number in range(22)]
    assert letters[:2] == ["G", "H"]
    assert letters[-2:] == ["AA", "AB"]
    from web.crate.reads import bare_trays_of

    assert [tray.letter for tray in bare_trays_of(wren)][-3:] == ["Z", "AA", "AB"]
