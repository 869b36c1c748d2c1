"""Every change to the crate: checked, written in one go, and recorded in the history."""

from web.domain.crate.services.entered import (
    MOST_NEW_TRAYS,
    Learned,
    answer_lines,
    enter_lures,
    forget_word,
    keep_heap,
    remember_name,
    take_back,
    take_in,
    take_seen,
)
from web.domain.crate.services.lures import (
    add_lure,
    delete_lure,
    drop_card,
    edit_lure,
    make_over,
    merge_lures,
    move_lure,
    split_lure,
)
from web.domain.crate.services.said import mark_finding, note_score, set_any_form
from web.domain.crate.services.several import change_several, sort_trays, tray_name, trays_proposed
from web.domain.crate.services.stacks import AREA, MOST_LURES
from web.domain.crate.services.stock import bought, bring, put_away, take_out
from web.domain.crate.services.things import set_thing
from web.domain.crate.services.trays import (
    FIRST_PLACES,
    FIRST_TRAY,
    delete_tray,
    edit_tray,
    first_tray,
    keep_corners,
    keep_picture,
    make_tray,
    tray_made,
)

__all__ = [
    "AREA",
    "FIRST_PLACES",
    "FIRST_TRAY",
    "Learned",
    "MOST_LURES",
    "MOST_NEW_TRAYS",
    "add_lure",
    "bought",
    "bring",
    "change_several",
    "delete_lure",
    "delete_tray",
    "drop_card",
    "edit_lure",
    "edit_tray",
    "enter_lures",
    "forget_word",
    "first_tray",
    "keep_corners",
    "answer_lines",
    "keep_heap",
    "keep_picture",
    "make_over",
    "make_tray",
    "mark_finding",
    "merge_lures",
    "move_lure",
    "note_score",
    "put_away",
    "remember_name",
    "set_any_form",
    "set_thing",
    "sort_trays",
    "split_lure",
    "take_back",
    "take_in",
    "take_out",
    "take_seen",
    "tray_made",
    "tray_name",
    "trays_proposed",
]
