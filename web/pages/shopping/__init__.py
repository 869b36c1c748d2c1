"""The shopping list: in order, with prices, ticked off into the crate."""
