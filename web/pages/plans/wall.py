"""The plan to take along: one page for the wall with every kind, and a board's numbers as a table."""

from typing import Final

from django.http import Http404, HttpResponse
from django.template.loader import render_to_string
from django.views.decorators.http import require_GET

from tackle.base.vocabulary import CATEGORIES, Light
from web.common.accounts.request import OwnRequest
from web.common.ui.tables import as_csv
from web.common.ui.words import adding_up, label, total_shown
from web.common.work.papers import paper
from web.domain.plans import selectors
from web.pages.plans import board

PAPERS = {"a4": "A4 landscape", "letter": "Letter landscape"}
MOST_CODES = 3  # in a cell
_LEFT, _ACROSS = 90, 136  # of a drawn board: where its cells begin, and how wide one is
_TINTS: Final = {
    "gin": "#bfe3e6", "clear": "#a4d2cf", "fair": "#93bda4", "stained": "#a9a86b", "dirty": "#9c8250", "mud": "#7d5a35",
}  # fmt: skip


@require_GET
def wall(request: OwnRequest) -> HttpResponse:
    """All kinds of the plan on one page: clarity down, light across, the codes in between."""
    basis = selectors.get_basis(request.user)
    kinds = []
    for each in selectors.answers(basis):
        rows = [
            (row, [[answer.cards for answer in cell.answers[:MOST_CODES]] for cell in row.cells])
            for row in board.cover_board(each, "").rows
        ]
        kinds.append((each, rows, [piece.card for piece in each.answer.pieces]))
    size = PAPERS.get(request.GET.get("paper", ""), PAPERS["a4"])
    context = {"kinds": kinds, "lights": list(Light), "size": size, "plan": basis.plan}
    context |= {"waters": [water.name for water in basis.every_water if water.pk in basis.water_ids]}
    return paper(request, "plans/wall_paper.html", context, "wall.pdf")


@require_GET
def table(request: OwnRequest, category: str) -> HttpResponse:
    """A grid's squares as CSV: days, of them first choice, will do and not covered, which add up, and the colours."""
    _, answered = _answered(request, category)
    rows = []
    for row in board.cover_board(answered, "").rows:
        for cell in row.cells:
            if cell.tally.days:
                tally = cell.tally
                shown = adding_up((tally.first_choice, tally.will_do, tally.not_covered), 10)
                rows.append(
                    [
                        row.band,
                        cell.light,
                        total_shown(shown),
                        *shown,
                        "; ".join(answer.name for answer in cell.answers),
                    ]
                )
    heading = ["clarity", "light", "days", "first choice", "will do", "not covered", "colours"]
    return as_csv(f"board-{category}", heading, rows)


@require_GET
def curve_table(request: OwnRequest, category: str) -> HttpResponse:
    """What each number of colours, or pieces, can do at most, as CSV."""
    basis, _ = _answered(request, category)
    rows = [
        [point.size, f"{point.days:.1f}", f"{point.right:.1f}", "yes" if point.proved else "no"]
        for point in selectors.curve(basis, category)
    ]
    return as_csv(
        f"curve-{category}", ["colours", "days covered", "days by agreement of the rulebooks", "proved"], rows
    )


@require_GET
def picture(request: OwnRequest, category: str) -> HttpResponse:
    """A board as a drawing by itself, in SVG."""
    _, answered = _answered(request, category)
    top, rows = 62, []
    for row, cells in board.told_rows(board.cover_board(answered, ""), category, ""):
        most = max(len(cell.get("cards", ())) + bool(cell.get("more")) for cell in cells)
        drawn = [
            {
                **cell,
                "x": _LEFT + index * (_ACROSS + 5),
                "cards": [(card, 42 + 25 * at) for at, card in enumerate(cell.get("cards", ()))],
                "more_y": 57 + 25 * len(cell.get("cards", ())),
            }
            for index, cell in enumerate(cells)
        ]
        height = 46 + 25 * most
        rows.append({"band": row.band, "tint": _TINTS[row.band], "y": top, "height": height, "cells": drawn})
        top += height + 5
    lights = [(light, _LEFT + index * (_ACROSS + 5)) for index, light in enumerate(Light)]
    names = ", ".join(piece.card.name.lower() for piece in answered.answer.pieces)
    codes = " ".join(piece.card.code for piece in answered.answer.pieces)
    context = {
        "said": f"{label(category)}: {names}", "title": f"{label(category)}: {codes}",
        "rows": rows, "lights": lights, "across": _ACROSS,
        "width": _LEFT + len(lights) * (_ACROSS + 5) + 5, "height": top + 5,
    }  # fmt: skip
    drawn_board = render_to_string("plans/board.svg", context)
    headers = {"Content-Disposition": f'attachment; filename="board-{category}.svg"'}
    return HttpResponse(drawn_board, content_type="image/svg+xml", headers=headers)


def _answered(request: OwnRequest, category: str) -> tuple[selectors.Basis, selectors.Answered]:
    basis = selectors.get_basis(request.user)
    if category not in basis.categories or category not in CATEGORIES:
        raise Http404
    return basis, selectors.answer(basis, category)
