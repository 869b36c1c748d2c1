"""A file on its way into the crate: what its rows were read as, held against what is there."""

from collections import Counter
from collections.abc import Iterable, Sequence
from typing import Any

from tackle.colours.palette import Palette
from tackle.intake.sheet_rows import FIELDS, Draft
from web.domain.crate.models import ImportDraft, ImportRow, Tray
from web.domain.crate.selectors import Stock

MOST_LIKE = 300


def draft_from(row: ImportRow, palette: Palette) -> Draft:
    """What a row was read as."""
    offers = tuple(palette.by_id[one] for one in row.told["offers"] if one in palette.by_id)
    return Draft(**{**row.told, "offers": offers})


def group_by_likeness(stock: Iterable[Stock], trays: Iterable[Tray], draft: ImportDraft) -> dict[str, Stock]:
    """What lies in the crate, by all that a row may be like: with the name printed on it or without, and with its tray
    by letter or by name or without."""
    names = {tray.letter: tray.name.lower() for tray in trays}
    found: dict[str, Stock] = {}
    for one in stock:
        for tray in (one.letter.lower(), names.get(one.letter, ""), ""):
            if tray or draft.tray is None or draft.tray.letter == one.letter:
                for name in (one.lure.name, ""):
                    found.setdefault(like(one.lure.category, one.lure.card.id, one.lure, name, tray), one)
    return found


def like(category: str, card: str, form: Any, name: str, tray: str) -> str:
    """What is the same of a row and a stack where the one is as the other."""
    measures = (form.size_in, form.weight_oz, form.depth_ft)
    data = ("" if value is None else f"{value:.3f}" for value in measures)
    return "|".join((category, card, *data, form.sound, name.lower(), tray))[:MOST_LIKE]


def mends_said(draft: ImportDraft) -> list[dict[str, Any]]:
    """For each kind of mend in the sheets that are wanted: how many cells, one of them, and whether it is put right."""
    wanted = set(draft.wanted)
    mends = [mend for mend in draft.mends if mend[1] in wanted]
    first = {mend[0]: mend for mend in reversed(mends)}
    return [
        {"kind": kind, "cells": cells, "was": first[kind][4], "told": first[kind][5], "on": kind in draft.mended}
        for kind, cells in Counter(mend[0] for mend in mends).items()
    ]


def columns_known(names: Sequence[str]) -> list[str]:
    """The fields that columns are said to hold, each at most once."""
    return [name if name in FIELDS and name not in names[:index] else "" for index, name in enumerate(names)]
