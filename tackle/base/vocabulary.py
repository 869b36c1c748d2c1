"""The words of the job, as types. Every id that code, data, commands and screens use is declared here once."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType
from typing import Final

__all__ = [
    "CATEGORIES", "TRAILER", "Accent", "Brightness", "Category", "Cover", "Current", "Density", "Finish", "Flake",
    "FlakeHue", "Forage", "Grade", "Group", "Light", "Mood", "Opacity", "Pace", "Salinity", "Season", "Stain", "Target",
    "Tide", "Tone", "Wind", "ids",
]  # fmt: skip


class Group(StrEnum):
    HARD = "hard"
    SKIRTED = "skirted"
    SOFT = "soft"
    WIRE = "wire"


class Salinity(StrEnum):
    FRESH = "fresh"
    SALT = "salt"
    BOTH = "both"


class Tone(StrEnum):
    """The first word an angler would use for a colour; one per card."""

    WHITE = "white"
    BONE = "bone"
    PEARL = "pearl"
    SILVER = "silver"
    GOLD = "gold"
    CLEAR = "clear"
    SMOKE = "smoke"
    SHAD = "shad"
    GREEN_PUMPKIN = "green-pumpkin"
    WATERMELON = "watermelon"
    BROWN = "brown"
    ROOT_BEER = "root-beer"
    BROWN_PURPLE = "brown-purple"
    BLACK = "black"
    BLACK_BLUE = "black-blue"
    BLACK_GOLD = "black-gold"
    DARK_PURPLE = "dark-purple"
    BRIGHT_PURPLE = "bright-purple"
    RED_BUG = "red-bug"
    CHARTREUSE = "chartreuse"
    CHARTREUSE_BLACK = "chartreuse-black"
    CHARTREUSE_BLUE = "chartreuse-blue"
    TIGER = "tiger"
    ORANGE = "orange"
    RED_CRAW = "red-craw"
    ORANGE_CRAW = "orange-craw"
    GREEN_CRAW = "green-craw"
    SUNFISH = "sunfish"
    PERCH = "perch"
    GOBY = "goby"
    MINNOW = "minnow"
    PINK = "pink"


class Opacity(StrEnum):
    OPAQUE = "opaque"
    SEMI = "semi"
    TRANSLUCENT = "translucent"


class Finish(StrEnum):
    MATTE = "matte"
    PEARL = "pearl"
    METALLIC = "metallic"


class Flake(StrEnum):
    NONE = "none"
    FINE = "fine"
    MEDIUM = "medium"
    COARSE = "coarse"


class FlakeHue(StrEnum):
    BLACK = "black"
    SILVER = "silver"
    GOLD = "gold"
    COPPER = "copper"
    RED = "red"
    PURPLE = "purple"
    BLUE = "blue"
    GREEN = "green"
    ORANGE = "orange"


class Brightness(StrEnum):
    MUTED = "muted"
    NATURAL = "natural"
    BRIGHT = "bright"


class Accent(StrEnum):
    ORANGE_BELLY = "orange-belly"
    ORANGE_TIPS = "orange-tips"
    RED_THROAT = "red-throat"
    YELLOW_BELLY = "yellow-belly"
    CHARTREUSE_BELLY = "chartreuse-belly"
    CHARTREUSE_TAIL = "chartreuse-tail"
    PALE_BELLY = "pale-belly"
    DARK_BACK = "dark-back"
    WHITE_BACK = "white-back"
    PURPLE_BACK = "purple-back"
    BLUE_BACK = "blue-back"
    BARS = "bars"


class Forage(StrEnum):
    """What the fish eat. `UNKNOWN` is a case of its own: a new water, or nobody knows."""

    SHAD = "shad"
    HERRING = "herring"
    SHINER = "shiner"
    MINNOW = "minnow"
    SUNFISH = "sunfish"
    PERCH = "perch"
    CRAPPIE = "crappie"
    YOUNG_BASS = "young-bass"
    CRAWFISH = "crawfish"
    GOBY = "goby"
    LEECH = "leech"
    INSECT = "insect"
    FROG = "frog"
    MULLET = "mullet"
    MENHADEN = "menhaden"
    PILCHARD = "pilchard"
    KILLIFISH = "killifish"
    PINFISH = "pinfish"
    SHRIMP = "shrimp"
    CRAB = "crab"
    UNKNOWN = "unknown"

    @property
    def in_salt(self) -> bool:
        """Whether it lives inshore."""
        return self in _IN_SALT


_IN_SALT: Final = frozenset(
    (Forage.MULLET, Forage.MENHADEN, Forage.PILCHARD, Forage.KILLIFISH, Forage.PINFISH, Forage.SHRIMP, Forage.CRAB)
)


class Stain(StrEnum):
    NONE = "none"
    SILT = "silt"
    ALGAE = "algae"
    TANNIC = "tannic"


class Light(StrEnum):
    BRIGHT = "bright"
    BROKEN = "broken"
    OVERCAST = "overcast"
    LOW = "low"
    NIGHT = "night"


class Wind(StrEnum):
    CALM = "calm"
    RIPPLE = "ripple"
    CHOP = "chop"


class Season(StrEnum):
    WINTER = "winter"
    PRESPAWN = "prespawn"
    SPAWN = "spawn"
    POSTSPAWN = "postspawn"
    SUMMER = "summer"
    FALL = "fall"


class Cover(StrEnum):
    OPEN = "open"
    GRASS = "grass"
    WOOD = "wood"
    ROCK = "rock"
    DOCKS = "docks"


class Pace(StrEnum):
    SLOW = "slow"
    MEDIUM = "medium"
    FAST = "fast"


class Density(StrEnum):
    """How thick the cover is."""

    SPARSE = "sparse"
    HEAVY = "heavy"


class Current(StrEnum):
    """What the water itself does."""

    STILL = "still"
    RIVER = "river"
    TIDAL = "tidal"


class Tide(StrEnum):
    """Which way a tide runs; slack for half an hour about its turn."""

    RISING = "rising"
    SLACK = "slack"
    FALLING = "falling"


class Target(StrEnum):
    LARGEMOUTH = "largemouth"
    SMALLMOUTH = "smallmouth"
    SPOTTED = "spotted"
    STRIPER = "striper"
    RED_DRUM = "red-drum"
    SPECKLED_TROUT = "speckled-trout"
    SNOOK = "snook"
    TARPON = "tarpon"
    FLOUNDER = "flounder"


class Mood(StrEnum):
    """What the fish are about; idle: fed full, or not interested."""

    FEEDING = "feeding"
    IDLE = "idle"
    PRESSURED = "pressured"


class HookUp(StrEnum):
    """How a fish had the lure: well inside; on and off again; by one barb outside; it came and was not hooked; or it
    was only seen behind it."""

    WHOLE = "whole"
    LOST = "lost"
    OUTSIDE = "outside"
    MISSED = "missed"
    FOLLOW = "follow"


class Grade(StrEnum):
    """What a school says of a colour in one situation. A silent school is the absence of a grade."""

    GO_TO = "go-to"
    WORKS = "works"
    AVOID = "avoid"


@dataclass(frozen=True, slots=True)
class Category:
    """What an angler ties on: its id, its group, and the waters it is thrown in."""

    id: str
    group: Group
    waters: Salinity

    @property
    def takes_trailer(self) -> bool:
        """Whether something is threaded on it."""
        return self.group is Group.SKIRTED


def _categories(rows: str) -> Mapping[str, Category]:
    split = (line.split() for line in rows.strip().splitlines())
    return MappingProxyType({name: Category(name, Group(group), Salinity(waters)) for name, group, waters in split})


CATEGORIES: Final = _categories("""
    shallow-crankbait   hard     fresh
    deep-crankbait      hard     fresh
    lipless-crankbait   hard     both
    jerkbait            hard     both
    walking-topwater    hard     both
    popper              hard     both
    frog                soft     fresh
    casting-jig         skirted  fresh
    structure-jig       skirted  fresh
    finesse-jig         skirted  fresh
    swim-jig            skirted  fresh
    bladed-jig          skirted  both
    jig-trailer         soft     fresh
    creature            soft     fresh
    worm                soft     fresh
    finesse-worm        soft     fresh
    finesse-stick       soft     fresh
    swimbait            soft     both
    spinnerbait         wire     fresh
    inline-spinner      wire     both
    spoon               wire     both
    inshore-paddletail  soft     salt
    inshore-jerkshad    soft     salt
    inshore-shrimp      soft     salt
""")


TRAILER: Final = "jig-trailer"


def ids(kind: type[StrEnum]) -> tuple[str, ...]:
    """The ids of one kind, in the vocabulary's order."""
    return tuple(member.value for member in kind)
