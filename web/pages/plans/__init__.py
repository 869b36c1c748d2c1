"""The plan as it is shown: the grid, a square, what is thrown by month, kept plans."""
