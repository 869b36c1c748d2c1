"""The faces of a lure: what they reflect at every wavelength, what they give out of light that they took in, how much
shows through, how much is a mirror.

Reflectance from sRGB after Mallett & Yuksel (2019). Fluorescence by a Donaldson matrix of one part: what is taken in
and what is given out are each a curve, joined by a quantum yield (Donaldson 1954).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tackle.base.store import kept
from tackle.base.vocabulary import Accent, Brightness, Finish
from tackle.colours.colour import Colour, Fluorescent
from tackle.colours.light import to_linear
from tackle.sight.spectra import Assumptions, spectra

__all__ = ["PARTS", "Faces", "make_faces"]

PARTS = ("back", "side", "belly")
_PAINTED_BACK = {Accent.DARK_BACK, Accent.WHITE_BACK, Accent.PURPLE_BACK, Accent.BLUE_BACK}
_PAINTED_BELLY = {Accent.ORANGE_BELLY, Accent.YELLOW_BELLY, Accent.CHARTREUSE_BELLY, Accent.PALE_BELLY}
_REFLECTS = (0.03, 0.87)  # what paint reflects at least, and how much more at most
Curve = NDArray[np.float64]


@dataclass(frozen=True, slots=True, eq=False)
class Faces:
    """Some lures: `reflects` (n, 3, 33) of back, side and belly; `takes_in` (n, 3, 33) of the photons that fall on it,
    those it gives out again by `gives_out` (n, 33), shares of photons that add up to its yield; `through` (n, 3),
    the share that shows what is behind; `mirror` (n,), the share that shows what is around, in the tint of the face."""

    reflects: Curve
    takes_in: Curve
    gives_out: Curve
    through: Curve
    mirror: Curve

    def shines(self, light: Curve) -> Curve:
        """What each face gives back of some light (33,), reflected and given out, in energy: (n, 3, 33)."""
        waves = spectra().waves
        photons = (self.takes_in * light * waves).sum(axis=-1)
        return np.asarray(self.reflects * light + photons[..., None] * (self.gives_out / waves)[:, None, :])


@kept("faces of lures")
def make_faces(cards: tuple[Colour, ...], assumed: Assumptions) -> Faces:
    """The faces of some cards: flake mixed in by its share, part of it as glints."""
    data = assumed.told["lure"]
    paint = to_linear([getattr(card, part) for card in cards for part in PARTS]).reshape(-1, 3, 3)
    glints = np.zeros(len(cards))
    for index, card in enumerate(cards):
        if card.flake_srgb:
            flake = to_linear(card.flake_srgb).mean(axis=0)
            share = data["flake"][card.flake]
            paint[index] = paint[index] * (1 - share) + flake * share
            glints[index] = share * data["glint"]
    low, more = _REFLECTS
    reflects = low + more * np.clip(np.clip(paint, 0, 1) @ spectra().basis, 0, 1)
    excited = np.zeros((len(cards), len(spectra().waves)))
    gives_out = np.zeros_like(excited)
    for index, card in enumerate(cards):
        if glow := card.fluorescent or _usual_glow(card, assumed):
            excited[index], gives_out[index] = _excitation(glow, assumed), _emission(glow, assumed)
    metal = np.array([data["mirror"] if card.finish is Finish.METALLIC else 0.0 for card in cards], dtype=np.float64)
    return Faces(
        reflects=reflects,
        takes_in=excited[:, None, :] * (1 - reflects),
        gives_out=gives_out,
        through=np.array([_through(card, data["see_through"][card.opacity]) for card in cards], dtype=np.float64),
        mirror=np.maximum(metal, glints),
    )


def _usual_glow(card: Colour, assumed: Assumptions) -> Fluorescent | None:
    """How a bright card of its tone glows."""
    told = assumed.told["fluorescence"]["tones"].get(card.tone.value)
    if told is None or card.brightness is not Brightness.BRIGHT:
        return None
    low, high, emits, share = told
    return Fluorescent((low, high), emits, share)


def _excitation(glow: Fluorescent, assumed: Assumptions) -> Curve:
    """How much of the photons that are not reflected is taken in, by wavelength: whole between the two told, and none
    where it would give out more than it took."""
    waves, (low, high) = spectra().waves, glow.excites
    edge = assumed.number("fluorescence", "edge")
    inside = 1 / (1 + np.exp((low - waves) / edge * 4)) if low > waves[0] else np.ones_like(waves)
    return np.asarray(inside / (1 + np.exp((waves - high) / edge * 4)) * (waves < glow.emits))


def _emission(glow: Fluorescent, assumed: Assumptions) -> Curve:
    """Of one photon taken in, the photons given out by wavelength: steep on the short side, long on the other."""
    waves, width = spectra().waves, assumed.number("fluorescence", "width")
    off = (waves - glow.emits) / np.where(waves < glow.emits, width, 2 * width)
    shape = np.exp(-0.5 * off**2)
    return np.asarray(glow.quantum_yield * shape / shape.sum())


def _through(card: Colour, share: float) -> tuple[float, float, float]:
    """How much shows through back, side and belly: paint on a back or a belly closes it."""
    if card.solid is not None:
        back, side, belly = (1 - one for one in card.solid)
        return back, side, belly
    accents = set(card.accents)
    return (0.0 if accents & _PAINTED_BACK else share), share, (0.0 if accents & _PAINTED_BELLY else share)
