"""The fewest colours that answer the days: instance, exact search, curve, buying order."""
