"""All schools, all categories, a thousand situations; and one situation as a running process answers it."""

import random
import subprocess
import sys
from pathlib import Path

import numpy as np

from bench.measure import best_of, peak_mb, report
from tackle.base.vocabulary import CATEGORIES, Cover, Forage, Light, Pace, Season, Stain, Wind
from tackle.colours.palette import house_palette
from tackle.commands.advise import advise
from tackle.schools.evaluation import evaluate
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.columns import Columns, tabulate
from tackle.situations.conditions import CHOICES
from tackle.situations.situation import Situation

SITUATIONS = 1000
ONE = {"situation": {"category": "shallow-crankbait", "visibility_in": 40, "light": "broken", "month": 5}}


def some_situations() -> list[Situation]:
    pick = random.Random(5)
    return [
        Situation(
            "worm", pick.uniform(4, 300), pick.choice(list(Light)), pick.choice(list(Stain)), pick.choice(list(Wind)),
            pick.choice(list(Season)), pick.randint(1, 12), pick.uniform(36, 88), pick.uniform(1, 30), 60.0,
            pick.choice(list(Cover)), pick.choice(list(Pace)), (pick.choice(list(Forage)),),
        )
        for _ in range(SITUATIONS)
    ]  # fmt: skip


def evaluate_all(columns: Columns) -> None:
    palette = house_palette()
    for book in house_rulebooks().values():
        for category in CATEGORIES:
            evaluate(book, category, palette.sold_in(category), columns)


def bare_masks(columns: Columns) -> None:
    """The numpy operations that no evaluation can do without, over the same arrays and calls: every condition
    of every call compared and combined, once for each category it is for."""
    for book in house_rulebooks().values():
        for category in CATEGORIES:
            for call in book.calls:
                if category not in call.categories:
                    continue
                mask = np.ones(columns.count, dtype=np.bool_)
                for name, span in call.ranges:
                    values = columns.numbers[name]
                    mask &= (values >= span.low) & (values < span.below)
                for name, words in call.among:
                    if name == "forage":
                        mask &= (columns.forage & 1) != 0
                    else:
                        for _ in words & set(CHOICES[name]):
                            mask &= columns.choices[name] != 0


def run() -> bool:
    columns = tabulate(some_situations())
    evaluate_all(columns)
    good = report(
        f"evaluate 6 schools x 24 categories x {SITUATIONS} situations",
        best_of(5, lambda: evaluate_all(columns)),
        "the bare mask operations",
        best_of(5, lambda: bare_masks(columns)),
        most=3,
        limit_s=1.5,
    )
    print(f"     peak memory {peak_mb(lambda: evaluate_all(columns)):.1f} MB")
    start_up = best_of(3, lambda: subprocess.run([sys.executable, "-c", "import numpy"], check=True))
    single = best_of(20, lambda: advise(ONE))
    good &= report("one advise in a running process", single, "starting Python with numpy", start_up, 1, 0.05)
    wax = Path(__file__).parent.parent / "wax"
    line = b'{"id": 1, "situation": {"category": "worm", "visibility_in": 40, "light": "broken"}}\n'
    whole = best_of(3, lambda: subprocess.run([wax, "advise"], input=line, check=True, capture_output=True))
    return report("./wax advise as a whole process", whole, "starting Python with numpy", start_up, 6, 0.7) and good
