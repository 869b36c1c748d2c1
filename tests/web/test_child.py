"""Files of strangers, which may ask for more than they look like."""

import io
import time
import zipfile

import pytest
from django.core.exceptions import ValidationError

from tackle.base.errors import InvalidInput
from tackle.base.strict import read_toml_text
from web.common.serving.child import TEXT, TOO_MUCH, Bounds, in_child
from web.pages.intake.files import read_sheets

SMALL = Bounds(60_000_000, 1)
OFFICE = "urn:oasis:names:tc:opendocument:xmlns:{}:1.0"


def ods(rows):
    names = " ".join(f'xmlns:{name}="{OFFICE.format(name)}"' for name in ("office", "table", "text"))
    content = (
        f'<office:document-content {names} office:version="1.3"><office:body><office:spreadsheet><table:table '
        f'table:name="x">{rows}</table:table></office:spreadsheet></office:body></office:document-content>'
    )
    manifest = f'<manifest:manifest xmlns:manifest="{OFFICE.format("manifest")}"/>'
    kind = "application/vnd.oasis.opendocument.spreadsheet"
    return packed({"mimetype": kind, "content.xml": content, "META-INF/manifest.xml": manifest})


def packed(parts):
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as file:
        for name, text in parts.items():
            file.writestr(name, text)
    return held.getvalue()


def xlsx(inner):
    """A workbook of one sheet with anything in it."""
    import openpyxl

    held = io.BytesIO()
    openpyxl.Workbook().save(held)
    parts = {}
    with zipfile.ZipFile(held) as file:
        for name in file.namelist():
            parts[name] = file.read(name)
    sheet = parts["xl/worksheets/sheet1.xml"].decode()
    parts["xl/worksheets/sheet1.xml"] = sheet.replace("<sheetData/>", inner).replace("<sheetData></sheetData>", inner)
    return packed(parts)


def eats_memory():
    return len([bytes(1_000_000) for _ in range(1_000)])


def eats_time():
    while True:
        pass


def dies():
    import os

    os._exit(3)


def refuses(words):
    raise InvalidInput("file", words, ("one", "two"))


@pytest.mark.parametrize("work", [eats_memory, eats_time, dies])
def test_what_goes_past_its_bounds_is_told_and_takes_nothing_along(work):
    with pytest.raises(ValidationError, match="asks for too much"):
        in_child(SMALL, work)
    assert in_child(SMALL, len, b"four") == 4


def test_what_is_raised_there_is_raised_here():
    with pytest.raises(InvalidInput) as told:
        in_child(TEXT, refuses, "has no sheets")
    assert (told.value.field, told.value.wrong, told.value.allowed) == ("file", "has no sheets", "one of one, two")


def spaces():
    cell = '<table:table-cell><text:p>a<text:s text:c="99999999"/>b</text:p></table:table-cell>'
    return f"<table:table-row>{cell}</table:table-row>"


@pytest.mark.parametrize("kind", ["spaces", "elements", "cells"])
def test_a_small_packed_file_that_unfolds_is_refused_soon(kind):
    content = {
        "spaces": lambda: ods(spaces() * 30),
        "elements": lambda: xlsx("<sheetData>" + "<a/>" * 10_000_000 + "</sheetData>"),
        "cells": lambda: ods('<table:table-row table:number-rows-repeated="9999999"><table:table-cell '
                             'table:number-columns-repeated="9999999"><text:p>x</text:p></table:table-cell>'
                             "</table:table-row>"),
    }[kind]()  # fmt: skip
    begun = time.monotonic()
    with pytest.raises(ValidationError):
        in_child(TEXT, read_sheets, "box.xlsx" if kind == "elements" else "box.ods", content)
    assert time.monotonic() - begun < TEXT.wall_s


def test_keys_of_toml_that_are_nested_without_end_are_refused_at_once():
    begun = time.monotonic()
    with pytest.raises(InvalidInput, match="nested too deep"):
        read_toml_text(b".".join([b"a"] * 50_000) + b" = 1", "club.toml")
    assert time.monotonic() - begun < 1


def test_an_upload_reads_in_a_child(signed_in):
    from django.core.files.uploadedfile import SimpleUploadedFile

    file = SimpleUploadedFile("club.toml", b".".join([b"a"] * 40_000) + b" = 1")
    said = signed_in.post("/colours/rules/take-in/", {"file": file}, follow=True).content.decode()
    assert "nested too deep" in said or TOO_MUCH in said
