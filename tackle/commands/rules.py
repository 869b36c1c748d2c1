"""Checks the rulebooks and prints what they have answers for.

    python -m tackle.commands.rules [--scan] [--table [--season SEASON] [--food FOOD]] [FILE.toml ...]

Without files, the schools that ship with the app; with files, those rulebooks alone. With --table, what each school
reaches for first in every clarity and light, for one season (summer) and one food (unknown). Exit status 0 when
nothing is wrong, 1 when something is, 2 when a file cannot be read or the call itself is wrong.
"""

from __future__ import annotations

import argparse
import sys
from collections.abc import Sequence
from itertools import product
from pathlib import Path

import numpy as np

from tackle.base.errors import DataError
from tackle.base.pipes import ends_quietly, from_caller
from tackle.base.vocabulary import CATEGORIES, Forage, Light, Season, ids
from tackle.colours.palette import Palette, house_palette
from tackle.schools.first_choices import rows
from tackle.schools.never import LADDERS, never_first, stepping_back
from tackle.schools.never import lattice as scanned
from tackle.schools.reasons import unfounded
from tackle.schools.review import contradictions, lattice, lattice_share, never_win
from tackle.schools.rulebook import Rulebook, house_rulebooks, load_rulebook
from tackle.situations.columns import tabulate
from tackle.situations.situation import Situation

__all__ = ["main"]


def main(arguments: Sequence[str]) -> int:
    """Prints the report on standard output; returns the exit status."""
    parser = argparse.ArgumentParser(prog="wax rules", description="Checks rulebooks.")
    parser.add_argument("--table", action="store_true", help="what each rulebook begins with, clarity by light")
    parser.add_argument("--scan", action="store_true", help="every first choice that is never one, by its rule")
    parser.add_argument("--season", choices=ids(Season), default=Season.SUMMER)
    parser.add_argument("--food", choices=ids(Forage), default=Forage.UNKNOWN)
    parser.add_argument("files", nargs="*", type=Path)
    asked = parser.parse_args(arguments)
    try:
        palette = house_palette()
        books = [load_rulebook(from_caller(path)) for path in asked.files] or list(house_rulebooks().values())
    except DataError as error:
        print(error, file=sys.stderr)
        return 2
    if asked.table:
        _print_table(books, palette, Season(asked.season), Forage(asked.food))
        return 0
    if asked.scan:
        return _print_scan(books, palette)
    wrong = [line for book in books for line in _faults(book, palette)]
    print("\n".join(wrong) or f"{sum(len(book.calls) for book in books)} calls, nothing wrong with them")
    unanswered = _print_shares(books, palette)
    if not asked.files and unanswered:
        wrong.append("unanswered")
        print("\nNo rulebook answers: " + "; ".join(unanswered))
    return 1 if wrong else 0


def _faults(book: Rulebook, palette: Palette) -> list[str]:
    never = [f"{book.id}: {call.id}: can never win: {why}" for call, why in never_win(book, palette)]
    never += [
        f"{book.id}: {call.id}: the reason says {words!r}, but not the conditions, or not each of its cards"
        for call, words in unfounded(book, palette)
    ]
    return never + [
        f"{book.id}: {warning.id} warns of what {praise.id} recommends, and both are equally specific"
        for warning, praise in contradictions(book, palette)
    ]


def _print_table(books: Sequence[Rulebook], palette: Palette, season: Season, food: Forage) -> None:
    for book in books:
        print(f"{book.name}: first choices, {season}, food {food}\n")
        print(f"{'':<28}" + "".join(f"{light:<26}" for light in Light))
        for category, band, firsts in rows(book, palette, season, food):
            print(f"{category:<19}{band:<9}" + "".join(f"{word:<26}" for word in firsts))
        print()


def _print_scan(books: Sequence[Rulebook], palette: Palette) -> int:
    """Prints what is never a first choice and is one, and each step back along clarity; returns the exit status."""
    lines = []
    count = 0
    for category in CATEGORIES:
        situations = scanned(category)
        count += len(situations)
        for book in books:
            lines += [
                f"{book.id}: {one.call.id}: {category}: {one.card.id} in {one.times} situations, such as "
                f"{_said(one.situation)}: {one.rule.id}: {one.rule.why}"
                for one in never_first(book, category, palette, situations)
            ]
    for category, book in product(LADDERS, books):
        lines += [
            f"{book.id}: {category}: from {before.id} at {_said(there)} back to {card.id} at {here.visibility_in:g} in"
            for there, before, here, card in stepping_back(book, category, palette)
        ]
    print("\n".join(lines) or f"{count:,} situations, no first choice that is never one")
    return 1 if lines else 0


def _said(one: Situation) -> str:
    return f"{one.visibility_in:g} in, {one.light}, {one.season or 'no season'}, {one.stain}, {one.forage[0]}"


def _print_shares(books: Sequence[Rulebook], palette: Palette) -> list[str]:
    """Prints go-to/works/nothing in per cent of the lattice; returns what none of the books answers."""
    print("\nPer cent of situations: first choice / will do / nothing; share of colours that are a first choice\n")
    print(" " * 19 + "".join(f"{book.id:>19}" for book in books))
    unanswered = []
    means: list[float] = []
    for category in CATEGORIES:
        situations = lattice(category)
        columns = tabulate(situations)
        shares = [lattice_share(book, category, palette, columns) for book in books]
        means += [share.mean_go_to for share in shares if share.nothing < 1]
        print(f"{category:<19}" + "".join(
            f"{share.go_to:>7.0%}{share.works:>4.0%}{share.nothing:>4.0%}{share.mean_go_to:>4.0%}".replace("%", "")
            .rjust(19) for share in shares
        ))  # fmt: skip
        answered = np.logical_or.reduce([share.answered for share in shares])
        if not answered.all():
            first = situations[int(np.argmin(answered))]
            unanswered.append(f"{category} {first.visibility_in:.0f} in, {first.light}, {first.season}")
    print(f"\nMean share of a category's cards that are a first choice in one situation: {np.mean(means):.0%}")
    return unanswered


if __name__ == "__main__":
    ends_quietly()
    sys.exit(main(sys.argv[1:]))
