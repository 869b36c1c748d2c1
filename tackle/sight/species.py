"""Whose eye a fish is given: its own, or that of a fish that lives like it."""

from __future__ import annotations

from dataclasses import dataclass

from tackle.base.vocabulary import Target
from tackle.sight.spectra import assumptions
from tackle.situations.water import Water

__all__ = ["Given", "given_eye", "likely_species", "list_species", "water_eye", "water_species"]


@dataclass(frozen=True, slots=True)
class Given:
    """A fish, the eye that it is given, and whether that is another fish's."""

    species: Target
    eye: str
    borrowed: bool


def given_eye(species: Target) -> Given:
    """The eye of one fish."""
    told = assumptions().told["species"][species]
    return Given(species, told["eye"], told["borrowed"])


def list_species() -> tuple[Given, ...]:
    """All fish, with their eyes."""
    return tuple(given_eye(species) for species in Target)


def likely_species(target: Target | None, salt: bool) -> Target:
    """The fish that is fished for; where none was told, the commonest of such water."""
    return target or (Target.RED_DRUM if salt else Target.LARGEMOUTH)


def water_species(water: Water) -> Target:
    """The fish that is fished for on a water."""
    return likely_species(water.target, water.salinity == "salt")


def water_eye(water: Water) -> str:
    """The eye that looks at lures on a water."""
    return given_eye(water_species(water)).eye
