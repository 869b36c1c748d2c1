"""Two cones of a fish: how well each takes up light of every wavelength.

The pigment templates are those of Govardovskii et al. (2000), for both chromophores; receptor noise after Vorobyev and
Osorio (1998), with a dark noise beside it, so that nothing is told apart where there is no light.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tackle.sight.spectra import Assumptions, spectra

__all__ = ["cone_curves", "rod_curve"]

Curve = NDArray[np.float64]


def cone_curves(eye: str, assumed: Assumptions) -> Curve:
    """The sensitivities of an eye's two cones, short first: (2, 33), each of sum 1."""
    data = assumed.told["eye"][eye]
    return np.array([_cone(float(peak), data["chromophore"]) for peak in data["cones"]])


def rod_curve(eye: str, assumed: Assumptions) -> Curve:
    """The sensitivity of its rods: (33,), of sum 1."""
    return _cone(assumed.number("below", "rod_nm"), assumed.told["eye"][eye]["chromophore"])


def _cone(peak: float, chromophore: str) -> Curve:
    waves = spectra().waves
    ratio = peak / waves
    if chromophore == "A1":
        a = 0.8795 + 0.0459 * np.exp(-((peak - 300) ** 2) / 11940)
        main = 1 / (np.exp(69.7 * (a - ratio)) + np.exp(28 * (0.922 - ratio)) + np.exp(-14.9 * (1.104 - ratio)) + 0.674)
        beta, width, height = 189 + 0.315 * peak, -40.5 + 0.195 * peak, 0.26
    else:
        steep = 62.7 + 1.834 * np.exp((peak - 625) / 54.2)
        a = 0.875 + 0.0268 * np.exp((peak - 665) / 40.7)
        main = 1 / (
            np.exp(steep * (a - ratio)) + np.exp(20.85 * (0.9101 - ratio)) + np.exp(-10.37 * (1.1123 - ratio)) + 0.5343
        )
        beta, width, height = 216.7 + 0.287 * peak, 317 - 1.149 * peak + 0.00124 * peak**2, 0.37
    cone = main + height * np.exp(-(((waves - beta) / width) ** 2))
    return np.asarray(cone / cone.sum(), dtype=np.float64)
