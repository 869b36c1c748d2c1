"""Waters and the days to expect on them."""
