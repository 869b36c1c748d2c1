"""The plan: the fewest colours for the days to expect."""
