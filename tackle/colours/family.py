"""Families: what of one category is one colour for its purpose.

Two of one family are never planned, bought or carried as two. Flake, and what brightness comes of it, make no two.
"""

from __future__ import annotations

from collections.abc import Hashable, Iterable, Mapping
from dataclasses import dataclass
from pathlib import Path

from tackle.base.vocabulary import CATEGORIES, Accent, Brightness, FlakeHue, Tone, ids
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette, house_palette
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry

__all__ = ["families", "family", "load_family_rules", "on_top"]


@dataclass(frozen=True, slots=True)
class FamilyRules:
    """The categories in which more than the common traits tells, the accents that do, and what stands for each family
    that is joined to another, by category and the family that its traits make."""

    surface: frozenset[str]
    muted_counts: frozenset[str]
    purple_gold_counts: frozenset[str]
    accents: frozenset[Accent]
    joined: Mapping[tuple[str, Hashable], Hashable]
    alone: frozenset[tuple[str, str]]  # category and card that are a family by themselves


def family(card: Colour, category: str) -> Hashable:
    """What is equal for two cards of a category where they are one colour for its purpose."""
    rules = loaded(load_family_rules, FOLDER / "families.toml")
    if (category, card.id) in rules.alone:
        return card.id
    by_traits = _by_traits(card, category, rules)
    return rules.joined.get((category, by_traits), by_traits)


def families(cards: Iterable[Colour], category: str) -> list[list[Colour]]:
    """The families that some cards of a category make, each in the order in which they were given."""
    found: dict[Hashable, list[Colour]] = {}
    for card in cards:
        found.setdefault(family(card, category), []).append(card)
    return list(found.values())


def on_top(category: str) -> bool:
    """Whether a category is fished on top, where fish see it from below."""
    return category in loaded(load_family_rules, FOLDER / "families.toml").surface


def _by_traits(card: Colour, category: str, rules: FamilyRules) -> Hashable:
    tone = Tone.WHITE if category in rules.surface and card.tone is Tone.BONE else card.tone
    return (
        tone,
        card.opacity,
        card.finish,
        frozenset(card.accents) & rules.accents,
        card.other_face,
        category in rules.muted_counts and card.brightness is Brightness.MUTED,
        category in rules.purple_gold_counts and {FlakeHue.PURPLE, FlakeHue.GOLD} <= set(card.flake_hues),
    )


def load_family_rules(path: Path) -> FamilyRules:
    """What a TOML file says of families. Raises DataError naming the entry: where a colour is not of the palette, or
    two groups contradict each other."""
    fields = ("surface", "muted_counts", "purple_gold_counts", "accents", "join", "part")
    file, palette = Entry(read_toml(path), path.name, "file", fields), house_palette()
    counts = {name: frozenset(file.words(name, file.raw.get(name), CATEGORIES)) for name in fields[:3]}
    accents = frozenset(Accent(word) for word in file.words("accents", file.raw.get("accents"), ids(Accent)))
    rules = FamilyRules(**counts, accents=accents, joined={}, alone=frozenset())
    alone = {
        (category, card.id)
        for entry, categories in _groups(file, path, "part")
        for category in categories
        for card in _cards(entry, palette)
    }
    joined: dict[tuple[str, Hashable], Hashable] = {}
    for entry, categories in _groups(file, path, "join"):
        for category in categories:
            members = [card for card in _cards(entry, palette) if category in card.sold_in]
            parted = [card.id for card in members if (category, card.id) in alone]
            keys = list(dict.fromkeys(_by_traits(card, category, rules) for card in members))
            if parted or any((category, key) in joined for key in keys):
                raise entry.error("colours", f"of {category} are in another group as well")
            joined |= {(category, key): keys[0] for key in keys}
    return FamilyRules(**counts, accents=accents, joined=joined, alone=frozenset(alone))


def _groups(file: Entry, path: Path, name: str) -> Iterable[tuple[Entry, frozenset[str]]]:
    for number, raw in enumerate(file.raw.get(name, []), 1):
        entry = Entry(raw, path.name, f"{name} {number}", ("for", "colours"))
        yield entry, entry.words("for", entry.raw.get("for"), CATEGORIES)


def _cards(entry: Entry, palette: Palette) -> list[Colour]:
    named = entry.texts("colours")
    entry.among("colours", named, list(palette.by_id))
    return [palette.by_id[one] for one in named]
