"""Writes tackle/data/spectra.toml anew, from colour-science (BSD-3-Clause): in an environment of its own that has it,

    pip install colour-science==0.4.7 && python ops/spectra.py > tackle/data/spectra.toml

The absorption of pure water is typed in from its source.
"""

import colour
import numpy as np
from colour.recovery import MSDS_BASIS_FUNCTIONS_sRGB_MALLETT2019 as BASIS

WAVES = np.arange(400, 721, 10)
# Pope & Fry (1997), Applied Optics 36, table 3: per metre, 400 to 720 nm; above 700 nm from Smith & Baker (1981).
WATER = [
    0.00663, 0.00473, 0.00454, 0.00495, 0.00635, 0.00922, 0.00979, 0.0106, 0.0127, 0.0150, 0.0204, 0.0325, 0.0409,
    0.0434, 0.0474, 0.0565, 0.0619, 0.0695, 0.0896, 0.1351, 0.2224, 0.2644, 0.2755, 0.2916, 0.3108, 0.340, 0.410,
    0.439, 0.465, 0.516, 0.624, 0.827, 1.231,
]  # fmt: skip


def table(name, comment, values):
    print(f"# {comment}\n{name} = [{', '.join(f'{value:.5g}' for value in values)}]\n")


cmfs = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"]
d65 = colour.SDS_ILLUMINANTS["D65"]
observed = np.array([cmfs[wave] for wave in WAVES])
print("# Spectra every 10 nm from 400 to 720 nm. Made by ops/spectra.py from colour-science 0.4.7 (BSD-3-Clause).\n")
table("wavelengths_nm", "nanometres", WAVES)
table("daylight", "CIE standard illuminant D65, relative power (CIE 15:2004)", [d65[wave] for wave in WAVES])
for place, name in enumerate(("red", "green", "blue")):
    told = f"reflectance basis of linear sRGB {name} (Mallett & Yuksel 2019)"
    table(f"basis_{name}", told, [BASIS[wave][place] for wave in WAVES])
for place, name in enumerate(("x", "y", "z")):
    table(f"observer_{name}", f"CIE 1931 2 degree observer, {name}", observed[:, place])
table("water_absorption", "pure water, per metre (Pope & Fry 1997)", WATER)
