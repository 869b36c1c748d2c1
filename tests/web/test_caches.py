"""What is kept in memory is on one list, and each page is as it would be were nothing kept at all."""

import ast
import json
import os
import random
import re
from collections import Counter
from contextlib import contextmanager
from html.parser import HTMLParser
from itertools import zip_longest
from pathlib import Path
from urllib.parse import urljoin, urlsplit

import pytest
from django.core.exceptions import ValidationError
from django.urls import resolve

from tackle.base.store import Store
from tests.owner import renewed
from tests.web.test_every_door import wren_s  # noqa: F401 - a fixture
from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.domain.crate.models import Lure
from web.domain.crate.services import make_tray
from web.domain.plans.selectors import get_basis, get_owned
from web.domain.waters.models import Water

ROOT = Path(__file__).parents[2]
MOST = 40


def caches():
    """By name all that a process keeps: kinds in the store, and functions that remember their answers. The store's own
    disk, a FileCache, keeps what is counted by its kind already."""
    for file in sorted(path for top in ("tackle", "web") for path in (ROOT / top).rglob("*.py")):
        for node in ast.walk(ast.parse(file.read_text(encoding="utf-8"))):
            if isinstance(node, ast.FunctionDef):
                named = {ast.unparse(one).split("(")[0].split(".")[-1] for one in node.decorator_list}
                if named & {"cache", "lru_cache"}:
                    yield f"{file.relative_to(ROOT).with_suffix('')} {node.name}"
            if isinstance(node, ast.Call):
                called = ast.unparse(node.func).split(".")[-1]
                if called in ("kept", "once", "drawn") and node.args and isinstance(node.args[0], ast.Constant):
                    yield node.args[0].value
                if (called in ("cache", "lru_cache") and node.args) or re.fullmatch(r"(?!File)\w*Cache", called):
                    yield f"{file.relative_to(ROOT).with_suffix('')} {ast.unparse(node)}"


LISTED = {
    "answer of Ask",
    "belief",
    "bites needed",
    "board",
    "body",
    "colour that is meant",
    "colours that are found",
    "days to expect",
    "faces of lures",
    "every situation",
    "fitted water",
    "found of a category",
    "hardly apart",
    "how sure",
    "reworkable",
    "names of colours",
    "opinions",
    "owned",
    "places of a board",
    "plan",
    "problem",
    "rail",
    "reached",
    "story",
    "sun of a month",
    "tackle/check/reach cache(lambda: Reach([request], palette))",
    "tackle/colours/likeness lab",
    "tackle/cover/instance cache(lambda mask: _squeeze(mask, dropped))",
    "tackle/data/__init__ _loaded",
    "tackle/day/rods carried",
    "tackle/intake/kinds _colour_words",
    "tackle/base/hashing _reads",
    "tackle/schools/evaluation _sieves",
    "tackle/schools/evaluation _spoken",
    "tackle/base/store LRUCache(int(megabytes * 2 ** 20), getsizeof=lambda held: held.weight)",
    "travel box",
    "web/common/ui/signs sign",
    "web/common/ui/templatetags/wax stick",
    "where a colour would serve",
    "workbench",
}


def test_every_cache_is_on_the_list():
    assert set(caches()) == LISTED
    assert len(LISTED) <= MOST


def again(owner):
    """The same angler as another request meets them."""
    return User.objects.get(pk=owner.pk)


@one_change
def call_tarn(owner, name):
    Water.objects.filter(owner=owner, name__startswith="Tarn").update(name=name)


def names(owner):
    return {water.name for water in get_basis(owner).every_water}


@pytest.mark.django_db
def test_what_somebody_owns_is_read_whole_once_for_a_version(wren, django_assert_max_num_queries):
    tray = wren.trays.first()
    Lure.objects.bulk_create(Lure(tray=tray, category="worm", card="junebug", count=1) for _ in range(300))
    owner = renewed(wren)
    with django_assert_max_num_queries(13):
        assert len(get_owned(owner).shelf) > 300
    with django_assert_max_num_queries(0):
        assert get_basis(owner).every_water
        assert get_owned(owner).counts["worm"]["junebug"] >= 300
    call_tarn(again(owner), "Tarn Hole")
    assert "Tarn Hole" in names(again(owner))


@pytest.mark.django_db
def test_another_tabs_change_shows_after_ones_own(wren):
    stale, other = again(renewed(wren)), again(wren)
    assert "Tarn Hollow" in names(stale)
    call_tarn(other, "Tarn Hole")
    make_tray(stale, "Odds", "teal")
    assert "Tarn Hole" in names(stale)


@pytest.mark.django_db
def test_what_is_read_within_a_change_is_not_kept_beyond_it(wren):
    @one_change
    def drain(owner, wrong=""):
        before = get_basis(owner)
        owner.waters.all().delete()
        halfway = get_basis(owner)
        if wrong:
            raise ValidationError(wrong)
        return before.every_water, halfway.every_water

    owner = renewed(wren)
    with pytest.raises(ValidationError):
        drain(owner, "not today")
    assert get_basis(owner).every_water
    before, halfway = drain(owner)
    assert before
    assert not halfway
    assert not get_basis(again(owner)).every_water


STEPS = int(os.environ.get("WAX_FUZZ", "40"))
# What would end the walk, or belongs to no page that is compared.
NOT_PRESSED = re.compile(r"/account/|/start/|/api/|/teach/depth|/picture|/water/\d+/delete|/log/$|/taps/|/meter/")
TYPED = ("30 in", "2 junebug worm 5 in", "7", "Mine", "2026-06-01", "3.50", "green pumpkin")


class Doors(HTMLParser):
    """What can be pressed on a page: (address, fields), a field being (name, the values that there are to choose)."""

    def __init__(self, page):
        super().__init__()
        self.doors, self._form, self._select = [], None, None
        self.feed(page)

    def handle_starttag(self, tag, found):
        told = dict(found)
        posts = told.get("hx-post") or (told.get("action") or "" if told.get("method") == "post" else None)
        if tag == "form":
            self._form = []
            if posts is not None:
                self.doors.append((posts, self._form))
        elif tag == "select":
            self._select = []
            self._add(told, self._select)
        elif tag == "option" and self._select is not None:
            self._select.append(told.get("value", ""))
        elif tag in ("input", "textarea"):
            boxes = told.get("type") in ("checkbox", "radio")
            known = [told.get("value") or "on", None] if boxes else [told["value"]] if told.get("value") else TYPED
            self._add(told, known)
        elif tag == "button" and posts:
            asked = json.loads(told.get("hx-vals") or "{}")
            self.doors.append((posts, [(name, [str(value)]) for name, value in asked.items()]))
        elif tag == "button":
            self._add(told, [told.get("value", ""), None])

    def handle_endtag(self, tag):
        if tag == "form":
            self._form = None

    def _add(self, told, values):
        if self._form is not None and told.get("name"):
            self._form.append((told["name"], values))


@contextmanager
def nothing_kept():
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(Store, "once", lambda self, kind, of, make, packing=None, version=None: make())
        patch.setattr(Store, "has", lambda self, kind, of, version=None: False)
        yield


def shown(client, address):
    """The lines of a page, without its token."""
    page = client.get(address).content.decode()
    return re.sub(r'(csrf" content="|csrfmiddlewaretoken" value="|once" value="|X-CSRFToken": ")\w+', "", page).split(
        "\n"
    )


@pytest.mark.django_db
def test_whatever_is_written_each_page_is_as_it_would_be_were_nothing_kept(wren_s, signed_in, wren):  # noqa: F811
    _, addresses = wren_s
    pick, pressed, wrote = random.Random(os.environ.get("WAX_SEED", "37")), Counter(), Counter()
    pages = [address for address, _ in addresses if not NOT_PRESSED.search(address) and "." not in address]
    pages = [page for page in pages if (told := signed_in.get(page)).status_code == 200 and b"<main" in told.content]
    steady = [page for page in pages if "drill" not in page and "water/" not in page]
    assert len(steady) > 30

    def same(page):
        with nothing_kept():
            anew = shown(signed_in, page)
        kept = shown(signed_in, page)
        other = [pair for pair in zip_longest(anew, kept) if len(set(pair)) > 1]
        assert not other, (page, wrote, other[:3])

    def doors_of(page):
        found = Doors(signed_in.get(page).content.decode()).doors
        ways = [(urljoin(page, to), fields) for to, fields in found]
        return [(resolve(urlsplit(to).path).url_name, to, f) for to, f in ways if not NOT_PRESSED.search(to)]

    where = {page: {name for name, _, _ in doors_of(page)} for page in pages}
    for _ in range(STEPS):
        name = min(sorted(set().union(*where.values())), key=lambda name: (pressed[name], pick.random()))
        pressed[name] += 1
        ways = doors_of(pick.choice([page for page in pages if name in where[page]]))
        if name not in [one for one, _, _ in ways]:
            continue
        _, to, fields = pick.choice([way for way in ways if way[0] == name])
        entry = [(field, pick.choice(values)) for field, values in fields if values]
        before = User.objects.get(pk=wren.pk).version
        body = {}
        for field, value in entry:
            if value is not None:
                body.setdefault(field, []).append(value)
        headers = {"HX-Request": "true"} if pick.random() < 0.7 else {}
        assert signed_in.post(to, body, headers=headers).status_code < 500, (to, body)
        signed_in.get("/account/")  # takes the notice off
        if User.objects.get(pk=wren.pk).version != before:
            wrote[name] += 1
            for page in pick.sample(steady, 2):
                same(page)
    for page in steady:
        same(page)
    assert len(wrote) >= min(STEPS / 4, 12), (wrote, pressed)
