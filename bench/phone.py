"""A press on a slow phone, and its opening: what to throw now, of eight kinds of lure, by six rulebooks."""

import json
from pathlib import Path

from playwright.sync_api import sync_playwright

from tackle.base.vocabulary import TRAILER
from tackle.colours.palette import house_palette
from tackle.day.phone_book import book_for_phone
from tackle.schools.rulebook import house_rulebooks

CATEGORIES = ("worm", "jerkbait", "shallow-crankbait", "spinnerbait", "casting-jig", "swimbait", "popper", "creature")
SCRIPTS = Path(__file__).parent.parent / "web" / "pages" / "trips" / "static" / "day"
MOST_MS, MOST_BYTES, MOST_OPENING_MS = 100.0, 400_000, 500.0
OPENED = """([text, listed, tray]) => {
  const told = Object.fromEntries(listed.map((one) => [one, { visibility_in: 34, light: "low", wind: "chop", forage: ["shad"], season: "summer" }]));
  const began = performance.now();
  throwNow(JSON.parse(text))({ listed, told, tray, aboard: tray, turns: [], at: 600 });
  return performance.now() - began;
}"""  # noqa: E501
TIMED = """([listed, tray]) => {
  const told = Object.fromEntries(listed.map((one) => [one, { visibility_in: 34, light: "low", wind: "chop", forage: ["shad"], season: "summer" }]));
  const turns = Array.from({ length: 24 }, (_, place) => ({
    category: listed[place % 2], card: tray[listed[place % 2]][place % 8], partner: false, bites: place % 5 ? [] : [{ at: 400 + 8 * place, how: "whole", light: "low" }],
    parts: [{ at: 400 + 8 * place, minutes: 5, light: "low", visibility_in: 34 }, { at: 405 + 8 * place, minutes: 3, light: "low", visibility_in: null }],
  }));
  const asked = { listed, told, tray, aboard: tray, turns, at: 600 }, times = [];
  for (let turn = 0; turn < 20; turn += 1) {
    const began = performance.now();
    // What a tap asks: what to throw now, what after this turn, and what at the forecast's next change.
    ask(asked); ask({ ...asked, listed: listed.slice(0, 1) }); ask({ ...asked, listed: listed.slice(0, 1), turns: [] });
    times.push(performance.now() - began);
  }
  return times.sort((one, other) => one - other)[10];
}"""  # noqa: E501


def run() -> bool:
    palette, kinds = house_palette(), (*CATEGORIES, TRAILER)
    aboard = {one: palette.sold_in(one)[:8] for one in kinds}
    book = book_for_phone(aboard, list(house_rulebooks().values()), palette, {})
    size = len(json.dumps(book, separators=(",", ":")))
    tray = {one: [card.id for card in cards] for one, cards in aboard.items()}
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        page = browser.new_page()
        page.context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": 6})
        for name in ("schools.js", "fish.js"):
            page.add_script_tag(path=SCRIPTS / name)
        opening = page.evaluate(OPENED, [json.dumps(book), list(CATEGORIES), tray])
        page.evaluate("book => { window.ask = throwNow(book); }", book)
        taken = page.evaluate(TIMED, [list(CATEGORIES), tray])
        browser.close()
    good = taken <= MOST_MS and size <= MOST_BYTES and opening <= MOST_OPENING_MS
    said = f"a tap after 24 turns, six times throttled: {taken:.0f} ms (at most {MOST_MS:.0f})"
    said += f"; opened, and what to begin with: {opening:.0f} ms (at most {MOST_OPENING_MS:.0f})"
    print(f"{'ok  ' if good else 'SLOW'} {said}; the calls on {len(kinds)} kinds: {size / 1000:.0f} kB (at most 400)")
    return good
