"""Water from how deep a white lure shows in it and what clouds it: absorption and scattering at every wavelength.

The Secchi depth Zs fixes two unknown scales, of absorption and of scattering, by two equations: Kd(PAR) Zs = 1.7 (1.44
in turbid water; Poole & Atkins 1929, Holmes 1970), and photopic (c + Kd) Zs = 8.69 (Preisendorfer 1986), the second
weighted by the light that is left at that depth.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.base.store import kept
from tackle.base.units import CM_PER_IN
from tackle.sight.spectra import assumptions, spectra

__all__ = ["Body", "attenuation", "fitted"]

_FIT_COSINE: Final = 0.83  # of the light while a visibility is read: a middling sky
_DISC: Final = 8.69
_ROUNDS: Final = 60
Curve = NDArray[np.float64]


@dataclass(frozen=True, slots=True, eq=False)
class Body:
    """A water: `absorbs` and `scatters`, per metre, (33,)."""

    absorbs: Curve
    scatters: Curve

    @property
    def beam(self) -> Curve:
        """The beam attenuation c, per metre."""
        return self.absorbs + self.scatters


def attenuation(body: Body, cosine: float) -> Curve:
    """Kd, per metre, for light whose mean cosine is told (Kirk 1984)."""
    a, b = body.absorbs, body.scatters
    return np.asarray(np.sqrt(a**2 + (0.425 * cosine - 0.19) * a * b) / cosine, dtype=np.float64)


@kept("fitted water")
def fitted(visibility_in: float, stain: str) -> Body:
    """The water in which a white lure shows so deep. In the clearest, what pure water leaves of that."""
    depth = visibility_in * CM_PER_IN / 100
    made = assumptions().told["stain"][stain]
    absorbing, scattering = _shapes(made)
    target = np.log([made["secchi"], _DISC])
    scales = np.log([1.0 / depth, 5.0 / depth])  # of both, in logarithms: they are above 0
    for _ in range(_ROUNDS):
        off = _off(scales, absorbing, scattering, depth) - target
        if np.abs(off).max() < 1e-9:
            break
        steps = np.empty((2, 2))
        for index in range(2):
            moved = scales.copy()
            moved[index] += 1e-5
            steps[:, index] = (_off(moved, absorbing, scattering, depth) - target - off) / 1e-5
        change = np.linalg.lstsq(steps, -off, rcond=None)[0]
        scales = np.clip(scales + np.clip(change, -1.0, 1.0), -14.0, 8.0)
    return _body(scales, absorbing, scattering)


def _shapes(made: dict[str, float]) -> tuple[Curve, Curve]:
    """How the absorption of what clouds a water, and its scattering, go with wavelength; 1 at 440 and at 550 nm."""
    waves = spectra().waves
    dissolved = np.exp(-0.014 * (waves - 440))  # Bricaud et al. 1981
    mineral = np.exp(-0.0123 * (waves - 440))  # Babin et al. 2003
    algae = np.exp(-(((waves - 440) / 42) ** 2)) + 0.55 * np.exp(-(((waves - 675) / 14) ** 2)) + 0.12
    absorbing = made["dissolved"] * dissolved + made["algae"] * algae + made["mineral"] * mineral
    return absorbing, (550 / waves) ** made["exponent"]


def _body(scales: Curve, absorbing: Curve, scattering: Curve) -> Body:
    waves, (a, b) = spectra().waves, np.exp(scales)
    molecules = 0.00222 * (waves / 500) ** -4.32  # Morel 1974
    return Body(spectra().water + a * absorbing, molecules + b * scattering)


def _off(scales: Curve, absorbing: Curve, scattering: Curve, depth: float) -> Curve:
    """The logarithms of both products that the Secchi depth fixes."""
    body = _body(scales, absorbing, scattering)
    down = attenuation(body, _FIT_COSINE)
    quanta = spectra().daylight * spectra().waves
    left = float((quanta * np.exp(-down * depth)).sum() / quanta.sum())
    seen = spectra().daylight * np.exp(-down * depth) * spectra().observer[1]
    disc = float(((body.beam + down) * seen).sum() / seen.sum()) * depth
    return np.log([max(-np.log(max(left, 1e-300)), 1e-12), disc])
