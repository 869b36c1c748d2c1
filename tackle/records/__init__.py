"""Open records of a water: what was measured there over the years, in the shapes that such records come in."""
