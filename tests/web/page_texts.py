"""Each page of the demo as text, as it is read aloud: for who writes its words. `./wax texts` runs it."""

import os
import re
from collections import Counter, deque
from html.parser import HTMLParser
from pathlib import Path
from urllib.parse import urljoin, urlsplit

import pytest
from django.urls import Resolver404, resolve

from tests.pages import text

UNREAD = {"script", "style", "svg", "template"}
OWN_LINE = {
    "p",
    "h1",
    "h2",
    "h3",
    "li",
    "tr",
    "div",
    "section",
    "label",
    "button",
    "legend",
    "summary",
    "option",
    "caption",
    "dt",
    "dd",
    "nav",
    "header",
    "footer",
    "title",
    "form",
    "a",
}
EMPTY = {"br", "hr", "img", "input", "link", "meta", "path"}
PAGES_OF_A_ROUTE = 2
MOST_PAGES = 400


class Reader(HTMLParser):
    """The lines that are read on a page, and where its links lead."""

    def __init__(self, html: str) -> None:
        super().__init__()
        self.lines: list[str] = [""]
        self.links: list[str] = []
        self._unread = 0
        self.feed(html)

    def handle_starttag(self, tag, attrs):
        told = dict(attrs)
        if tag in UNREAD:
            self._unread += 1
        if tag == "a" and told.get("href"):
            self.links.append(told["href"])
        if tag in OWN_LINE:
            self.lines.append("# " if tag in ("h1", "h2", "h3") else "")
        for said in ("placeholder", "aria-label", "title"):
            if told.get(said) and not self._unread:
                self.lines[-1] += f" [{told[said]}] "

    def handle_endtag(self, tag):
        if tag in UNREAD:
            self._unread -= 1
        if tag in OWN_LINE:
            self.lines.append("")

    def handle_data(self, data):
        if not self._unread:
            self.lines[-1] += data

    def text(self) -> str:
        lines = (" ".join(line.split()) for line in self.lines)
        return "\n".join(dict.fromkeys(line for line in lines if re.search(r"\w", line)))


@pytest.mark.django_db
def test_every_page_is_written_down_as_text(signed_in):
    waiting, seen, routes, told = deque(["/plan/"]), {"/plan/"}, Counter(), []
    while waiting and len(told) < MOST_PAGES:
        address = waiting.popleft()
        try:
            route = resolve(urlsplit(address).path).route
        except Resolver404:
            continue
        if routes[route] >= PAGES_OF_A_ROUTE:
            continue
        answer = signed_in.get(address)
        if answer.status_code in (301, 302):
            waiting.append(urljoin(address, answer.url))
        if answer.status_code != 200 or not answer.get("Content-Type", "").startswith("text/html"):
            continue
        routes[route] += 1
        page = Reader(text(answer))
        told.append(f"== {address}\n{page.text()}\n")
        for link in page.links:
            there = urljoin(address, link).partition("#")[0]
            if there.startswith("/") and there not in seen:
                seen.add(there)
                waiting.append(there)
    assert len(told) > 40
    Path(os.environ["WAX_TEXTS"]).write_text("\n".join(told), encoding="utf-8")
