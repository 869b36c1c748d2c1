"""Random covering problems shaped like a category's: situations on a lattice, each colour good in a few boxes of it.

The boxes have holes, as where a school warns of a colour within what it else approves.
"""

import numpy as np

from tackle.cover.instance import Instance
from tackle.situations.rows import MILLION

LATTICE = (6, 5, 12, 4, 3)  # clarity, light, food, season, wind
HOLDS = 0.9


def shaped(seed: int, situations: int, colours: int) -> Instance:
    """`situations` points drawn from the lattice; each colour covers 10 to 35 % of them, in boxes; 40 % are owned."""
    random = np.random.default_rng(seed)
    places = random.choice(int(np.prod(LATTICE)), situations, replace=situations > np.prod(LATTICE))
    points = np.array(np.unravel_index(places, LATTICE)).T
    suits = np.zeros((situations, colours), dtype=np.int64)
    for colour in range(colours):
        goal = random.uniform(0.10, 0.35) * situations
        while (suits[:, colour] > 0).sum() < goal:
            inside = np.ones(situations, dtype=np.bool_)
            for axis, size in enumerate(LATTICE):
                width = random.integers(max(1, size // 2), size + 1)
                low = random.integers(0, size - width + 1)
                inside &= (points[:, axis] >= low) & (points[:, axis] < low + width)
            inside &= random.random(situations) < HOLDS
            if ((suits[:, colour] > 0) | inside).mean() <= 0.45:
                suits[inside, colour] = np.maximum(suits[inside, colour], random.choice([60, 100]))
    bare = np.flatnonzero(suits.max(axis=1) == 0)
    suits[bare, random.integers(0, colours, len(bare))] = 60
    return Instance(
        days=random.integers(1, 500, situations).astype(np.int64) * (MILLION // 100),
        needs=tuple((sum(1 << int(c) for c in np.flatnonzero(row)),) for row in suits),
        suits=suits,
        owned=sum(1 << c for c in range(colours) if random.random() < 0.4),
    )
