"""The plan to take along: one page for the wall with every kind, and a board's numbers as a table."""

import csv
import io

from django.http import Http404, HttpResponse
from django.views.decorators.http import require_GET

from tackle.vocabulary import Light
from web.accounts.request import OwnRequest
from web.plans import board, reads
from web.ui.words import adding_up
from web.work.papers import paper

PAPERS = {"a4": "A4 landscape", "letter": "Letter landscape"}
MOST_CODES = 3  # in a cell


@require_GET
def wall(request: OwnRequest) -> HttpResponse:
    """All kinds of the plan on one page: clarity down, light across, the codes in between."""
    basis = reads.basis_of(request.user)
    kinds = []
    for each in reads.answers(basis):
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
    """A board's cells as CSV: days, of them right, made do and open, which add up, and what answers them."""
    basis = reads.basis_of(request.user)
    if category not in basis.plan.categories:
        raise Http404
    held = io.StringIO()
    writer = csv.writer(held)
    writer.writerow(["clarity", "light", "days", "right", "made do", "open", "colours"])
    for row in board.cover_board(reads.answer(basis, category), "").rows:
        for cell in row.cells:
            if cell.tally.days:
                tally = cell.tally
                shown = adding_up((tally.right, tally.answered - tally.right, tally.days - tally.answered))
                days = f"{sum(map(float, shown)):.1f}".removesuffix(".0")
                writer.writerow([row.band, cell.light, days, *shown, "; ".join(one.name for one in cell.answers)])
    headers = {"Content-Disposition": f'attachment; filename="board-{category}.csv"'}
    return HttpResponse(held.getvalue(), content_type="text/csv; charset=utf-8", headers=headers)
