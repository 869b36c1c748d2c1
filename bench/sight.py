"""The fish's eye: many lures in many waters, and all pairs of one; against plain colour differences of the same."""

import json
from pathlib import Path

import numpy as np
from playwright.sync_api import sync_playwright

from bench.measure import best_of_both, report
from tackle.colours.likeness import to_lab
from tackle.colours.palette import house_palette
from tackle.sight.beside import look_beside
from tackle.sight.look import View, apart, points
from tackle.sight.stability import steadiness
from tackle.sight.water import fitted

LURES = 2000
DEPTHS, VISIBILITIES = (
    (1.0, 2.0, 4.0, 7.0, 12.0, 20.0, 30.0),
    (4.0, 6.0, 10.0, 15.0, 24.0, 36.0, 55.0, 80.0, 120.0, 200.0),
)
SCRIPT = Path(__file__).parent.parent / "web" / "pages" / "sight" / "static" / "sight" / "beside.js"
MOST_FRAME_MS = 8.0
PAGE = """<div data-beside><script type="application/json">%s</script><canvas width="720" height="300"></canvas>
<p class="beside-said" data-none="" data-doubt="" data-plain="" data-light="" data-hue="" data-near=""></p>
<output></output><input type="range" max="6" step="0.05" data-words="a|b|c|d|e|f|g"><output></output>
<input type="range" max="9" step="0.05" data-words="a|b|c|d|e|f|g|h|i|j"></div>"""
MOVED = """() => {
  const [deep, clear] = document.querySelectorAll("input"), pen = document.querySelector("canvas").getContext("2d");
  const began = performance.now();
  for (let turn = 0; turn < 200; turn += 1) {
    deep.value = (turn % 60) / 10; clear.value = (turn % 90) / 10;
    deep.dispatchEvent(new Event("input"));
    if (turn % 50 === 49) pen.getImageData(0, 0, 1, 1); // what is drawn is drawn
  }
  return (performance.now() - began) / 200;
}"""


def run() -> bool:
    palette = house_palette().cards
    cards = [palette[place % len(palette)] for place in range(LURES)]
    views = [
        View(eye, visibility, stain, depth, "bright")
        for eye in ("bass", "drum") for visibility in (8, 24, 60, 150)
        for stain in ("none", "algae", "tannic", "silt") for depth in (1, 4, 9)
    ]  # fmt: skip
    light = np.random.default_rng(1).random((LURES, 3, 3))
    seen, plain = best_of_both(
        3, lambda: _all_points(cards, views), lambda: [to_lab(light * (1 - place / 200)) for place in range(len(views))]
    )
    good = report(f"{LURES} lures in {len(views)} waters", seen, "as many L*a*b*", plain, 6, 1.0)
    places = points(cards, views[0])
    flat = places.reshape(LURES, -1)
    pairs, squares = best_of_both(5, lambda: apart(places), lambda: np.sqrt(np.abs(flat @ flat.T)))
    good &= report("all pairs of one", pairs, "one matrix product", squares, 12, 0.15)
    anew = getattr(fitted, "__wrapped__")  # noqa: B009 - without what is kept
    fit, _ = best_of_both(3, lambda: [anew(v, "tannic") for v in (8, 24, 60)], lambda: None)
    print(f"     a water fitted: {fit / 3 * 1000:.1f} ms, then kept")
    for one in steadiness(palette, [View("bass", v, s, 3, "bright") for v in (12, 30, 80) for s in ("none", "tannic")]):
        print(f"     {one.what}: order kept {one.ranks:.2f}, calls that flip {one.flips:.0%}")
    return good & _moved(cards[0], cards[9])


def _moved(first, second):
    """One move of two colours side by side, on a slow phone."""
    table = look_beside((first, second), View("bass", 36, "none", 3, "bright"), DEPTHS, VISIBILITIES)
    told = {name: getattr(table, name).tolist() for name in ("lures", "behind", "apart", "near")}
    told |= {"depths": DEPTHS, "visibilities": VISIBILITIES, "at": [3, 36]}
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        page = browser.new_page()
        page.context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": 6})
        page.set_content(PAGE % json.dumps(told))
        page.add_script_tag(path=SCRIPT)
        taken = page.evaluate(MOVED)
        browser.close()
    good = taken <= MOST_FRAME_MS
    print(f"{'ok  ' if good else 'SLOW'} two side by side, a move, six times throttled: {taken:.1f} ms (at most 8)")
    return good


def _all_points(cards, views):
    return [points(cards, view) for view in views]
