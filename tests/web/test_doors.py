"""Every address: closed to who is not signed in, and strict in what its pages may load."""

import ast
import re
from pathlib import Path

import pytest
from django.urls import get_resolver

from tests.pages import text

pytestmark = pytest.mark.django_db
# Doors, and files that hold nothing of anybody's.
OPEN = re.compile(
    r"^/account/(sign-|join|forgot|reset|password|new-)|^/sw\.js$|^/manifest\.webmanifest$|^/api/schema\.json$|^/health$|^/metrics$|^/$|^/start/(board|mine)/$|^/teach/how/$"
)


def addresses(resolver=None, before="/"):
    """Every address of the app with something in the place of its parts."""
    for entry in (resolver or get_resolver()).url_patterns:
        route = before + re.sub(r"<[^>]*int:[^>]*>", "1", str(entry.pattern))
        route = re.sub(r"<[^>]*>", "worm", route)
        if hasattr(entry, "url_patterns"):
            yield from addresses(entry, route)
        else:
            yield route


def test_who_is_not_signed_in_sees_only_the_door(client):
    told = {address: client.get(address) for address in addresses() if not OPEN.match(address)}
    assert len(told) > 60
    for address, response in told.items():
        inside = response.status_code == 200 and "Sign in" not in text(response)
        assert not inside, address


def test_pages_load_nothing_from_elsewhere_and_nothing_inline(signed_in):
    for address in ("/waters/", "/plan/", "/plan/travel/", "/crate/", "/crate/enter/", "/crate/picture/", "/buy/"):
        response = signed_in.get(address)
        page = text(response)
        policy = response.headers["Content-Security-Policy"]
        assert "unsafe" not in policy
        assert not re.search(r"(?:src|href)=\"(?:https?:)?//", page), address
        assert not re.search(r"\son[a-z]+=\"|\sstyle=\"|<script(?![^>]*\ssrc=)", page), address


def test_a_strange_number_in_an_address_is_no_server_error(signed_in):
    for address in addresses():
        response = signed_in.get(address.replace("/1/", "/99999999/").replace("/1.", "/99999999."))
        assert response.status_code in (200, 301, 302, 401, 404, 405), (address, response.status_code)


def test_looking_writes_nothing(signed_in):
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    for address in addresses():
        with CaptureQueriesContext(connection) as seen:
            signed_in.get(address)
        wrote = [one["sql"] for one in seen if re.match(r"(INSERT|UPDATE|DELETE|REPLACE)\b", one["sql"])]
        # What is printed waits in the queue, and is counted: nothing of what is owned.
        wrote = [sql for sql in wrote if not re.search(r"`(work_job|work_piece|accounts_try)`", sql)]
        assert not wrote, (address, wrote)


# Tries to get in belong to nobody, nor do the keys of forms that were sent; the history and a version's stamp are part
# of a change; the demo fills an empty place.
WRITE_TOO = {
    "web/common/accounts/once.py",
    "web/common/accounts/throttle.py",
    "web/domain/history/record.py",
    "web/common/accounts/writing.py",
    "web/demo/loader.py",
    "web/demo/season.py",
}
WRITES = {"create", "bulk_create", "get_or_create", "update_or_create", "update", "bulk_update", "delete"}


def test_only_services_write():
    root = Path(__file__).parents[2]
    for path in sorted((root / "web").rglob("*.py")):
        name = path.relative_to(root).as_posix()
        if "services" not in (path.stem, path.parent.name) and "/migrations/" not in name and name not in WRITE_TOO:
            wrote = [
                node.lineno
                for node in ast.walk(ast.parse(path.read_text(encoding="utf-8")))
                if isinstance(node, ast.Attribute)
                and (
                    (node.attr in WRITES and ".objects" in ast.unparse(node.value))
                    or (node.attr == "save" and not re.search("form|super|bare|book", ast.unparse(node.value)))
                )
            ]
            assert not wrote, (name, wrote)


def test_an_app_reads_another_ones_tables_through_its_door():
    # Who loads or carries whole accounts writes them row by row; the drafts of the intake lie among the crate's tables.
    carried = {"demo", "archive"}
    found = []
    web = Path(__file__).parents[2] / "web"
    for path in sorted(web.rglob("*.py")):
        floor, app = (*path.relative_to(web).parts, "")[:2]
        source = path.read_text(encoding="utf-8")
        for other, names in re.findall(r"from web\.\w+\.(\w+)\.models import (\([^)]*\)|[^\n]*)", source):
            if other not in (app, "accounts") and not {floor, app} & carried and "migrations" not in path.parts:
                models = "|".join(re.findall(r"[A-Z]\w+", names)) or "none"
                asked = re.findall(rf"\b({models})\.objects(?!\.none)", source)
                found += [(path.name, name) for name in asked if not name.startswith("Import")]
    assert found == []


def test_a_part_opened_by_its_own_address_has_the_page_around_it(signed_in):
    for address, said in (("/plan/sure/worm/", "How sure is it?"), ("/plan/why/worm/clear/bright/", "sunny")):
        part, page = (text(signed_in.get(address, headers=headers)) for headers in ({}, {"Sec-Fetch-Dest": "document"}))
        assert said in part
        assert part.strip() in page
        assert ("<!doctype" in part, "<!doctype" in page, 'id="main"' in page) == (False, True, True)
    assert signed_in.get("/plan/", headers={"Sec-Fetch-Dest": "document"}).content.count(b"<!doctype") == 1
