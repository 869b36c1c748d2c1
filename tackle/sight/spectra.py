"""Spectra and assumptions, from the data files. Wavelengths are 400 to 720 nm in steps of 10: 33 values everywhere."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from tackle.base.hashing import content_hash
from tackle.base.vocabulary import Light, Stain, Target, ids
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry

__all__ = ["EYES", "Assumptions", "Spectra", "assumptions", "load_assumptions", "load_spectra", "spectra"]

SPECTRA_FILE: Final = FOLDER / "spectra.toml"
EYE_FILE: Final = FOLDER / "eye.toml"
EYES: Final = ("bass", "striper", "drum")
Curve = NDArray[np.float64]


@dataclass(frozen=True, slots=True, eq=False)
class Spectra:
    """`waves` in nm; `daylight` of mean 1; `basis` (3, 33) of linear sRGB; `observer` (3, 33); `water` per metre."""

    waves: Curve
    daylight: Curve
    basis: Curve
    observer: Curve
    water: Curve


@dataclass(frozen=True, eq=False)
class Assumptions:
    """What is assumed, by its name in the data file."""

    told: Mapping[str, Any]

    @cached_property
    def mark(self) -> str:
        """See tackle.base.hashing."""
        return content_hash(self.told)

    def number(self, *path: str) -> float:
        """One number by its path."""
        value: Any = self.told
        for part in path:
            value = value[part]
        return float(value)

    def with_values(self, **changed: float) -> Assumptions:
        """The same with some of the plain numbers changed: to see how much hangs on them."""
        return Assumptions({**self.told, **changed})

    def with_cones(self, eye: str, cones: tuple[float, float]) -> Assumptions:
        """The same with other cones for an eye."""
        eyes = {**self.told["eye"], eye: {**self.told["eye"][eye], "cones": list(cones)}}
        return Assumptions({**self.told, "eye": eyes})


def load_spectra(path: Path) -> Spectra:
    """The spectra in a TOML file. Raises DataError naming file and entry."""
    file = Entry(read_toml(path), path.name, "file")

    def curve(name: str) -> Curve:
        return np.array(file.numbers(name, 33), dtype=np.float64)  # one every 10 nm from 400 to 720

    daylight = curve("daylight")
    return Spectra(
        waves=curve("wavelengths_nm"),
        daylight=daylight / daylight.mean(),
        basis=np.array([curve(f"basis_{name}") for name in ("red", "green", "blue")]),
        observer=np.array([curve(f"observer_{name}") for name in "xyz"]),
        water=curve("water_absorption"),
    )


def load_assumptions(path: Path) -> Assumptions:
    """The assumptions in a TOML file. Raises DataError naming file and entry."""
    file = Entry(read_toml(path), path.name, "file")
    for name, words in (("light", ids(Light)), ("stain", ids(Stain)), ("eye", EYES), ("species", ids(Target))):
        if {*file.table(name)} != {*words}:
            raise file.error(name, f"does not tell {', '.join(words)}")
    for fish, told in file.table("species").items():
        if told.get("eye") not in EYES or not isinstance(told.get("borrowed"), bool):
            raise file.error(
                f"species.{fish}", f"does not tell an eye of {', '.join(EYES)}, and whether it is borrowed"
            )
    for name in ("weber", "dark", "range_share", "range_most_ft", "side_light", "background", "surface"):
        file.number(name, low=np.finfo(float).tiny)
    return Assumptions(file.raw)


def spectra() -> Spectra:
    """The spectra that ship with the app, loaded once."""
    return loaded(load_spectra, SPECTRA_FILE)


def assumptions() -> Assumptions:
    """The assumptions that ship with the app, loaded once."""
    return loaded(load_assumptions, EYE_FILE)
