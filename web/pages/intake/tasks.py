"""What takes long in taking lures in, done outside the request."""

import io
from typing import Any

from django.core.exceptions import ValidationError
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.http import urlencode
from PIL import Image

from tackle.base.errors import InvalidInput
from tackle.base.vocabulary import CATEGORIES
from tackle.intake.sheet import Sheet, SheetTable, headed
from tackle.picture.find import find_tray
from tackle.picture.walls import find_walls
from web.common.accounts.models import User
from web.common.serving.child import TEXT, in_child
from web.common.watching.timing import timed
from web.common.work.heavy import Outcome, Tell, heavy
from web.common.work.models import Job
from web.domain.colours.selectors import get_palette
from web.domain.crate import selectors
from web.domain.crate.services import keep_corners
from web.pages.intake import services
from web.pages.intake.files import read_sheets
from web.pages.intake.seen import read_grid, sample_cells


@heavy
def read_file(job: Job, tell: Tell) -> Outcome:
    """A file with lures, read and kept to be looked over."""
    owner, tray = job.owner, job.asked.get("tray")
    tell("Reading the file", 0, 0)
    try:
        tables = _tables(owner, _sheets(job.name, bytes(job.content)))
    except InvalidInput as refused:
        raise ValidationError(f"The file {refused.wrong}: {refused.allowed}.") from refused
    read = services.read_draft(owner, job.name, tables, selectors.get_tray(owner, tray) if tray else None, tell)
    tell("Keeping the rows", 0, 0)
    return Outcome(to=reverse("import-draft", args=[services.keep_draft(owner, *read).pk]))


@timed("file")
def _sheets(name: str, content: bytes) -> list[Sheet]:
    return in_child(TEXT, read_sheets, name, content)


def _tables(owner: User, sheets: list[Sheet]) -> list[SheetTable]:
    """The tables of the sheets that have rows; a sheet without any is left out. Raises InvalidInput where none has."""
    tables, refused = [], InvalidInput("file", "has no sheets", "one row for each lure")
    for sheet in sheets:
        try:
            tables.append(headed(sheet, get_palette(owner), owner.units))
        except InvalidInput as error:
            refused = error
    if not tables:
        raise refused
    return tables


@heavy
def find_corners(job: Job, tell: Tell) -> Outcome:
    """The corners of the tray in a picture, where they can be found."""
    tell("Looking for the tray’s corners", 0, 0)
    picture = selectors.get_picture(job.owner, job.asked["picture"])
    asked = {"tray": job.asked["tray"]} if job.asked["tray"] else {}
    try:
        image = Image.open(io.BytesIO(bytes(picture.jpeg)))
        found = find_tray(image)
        keep_corners(job.owner, picture.pk, [[round(x, 1), round(y, 1)] for x, y in found])
        asked["rows"], asked["columns"] = find_walls(image, found)
    except InvalidInput:
        pass  # the angler drags them there
    return Outcome(to=reverse("picture-grid", args=[picture.pk]) + (f"?{urlencode(asked)}" if asked else ""))


def _likely(owner: User, category: str) -> frozenset[str]:
    """The colours of a category that the angler has, or chose once for a word."""
    have = selectors.list_lures(owner).filter(category=category).values_list("card", flat=True)
    chosen = [card for (of, _), card in selectors.printed_names(owner).items() if of == category]
    return frozenset([*have, *chosen])


@heavy
def read_picture(job: Job, tell: Tell) -> Outcome:
    """What lies in each compartment, or loose, as three offers and as it was seen; asked of one, that one alone."""
    tell("Reading the picture", 0, 0)
    data, one = job.asked, job.asked["one"]
    picture, category = selectors.get_picture(job.owner, data["picture"]), data["category"]
    asked = read_grid(data["grid"], picture)
    palette = get_palette(job.owner)
    cells = sample_cells(picture, asked, palette, category, one, data["of_one"], _likely(job.owner, category))
    context: dict[str, Any] = {
        "picture": picture, "category": category, "tray": data["tray"], "grid": data["grid"],
        "categories": list(CATEGORIES), "loose": asked["loose"],
        "sold": {one: sorted(palette.sold_in(one), key=lambda card: card.name) for one in (category, data["of_one"])},
    }  # fmt: skip
    if one:
        cell = next((cell for cell in cells if cell.place == one), None)
        if cell is None:
            raise ValidationError("There is no such compartment.")
        return Outcome(drawn=render_to_string("intake/seen_one.html", {**context, "cell": cell}))
    found, empty = [cell for cell in cells if cell.seen], [cell for cell in cells if not cell.seen]
    return Outcome(drawn=render_to_string("intake/seen.html", {**context, "found": found, "empty": empty}))
