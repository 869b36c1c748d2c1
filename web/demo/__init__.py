"""Demo data and its loader."""
