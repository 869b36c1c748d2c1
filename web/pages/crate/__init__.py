"""The crate: trays, lures, and what is wrong with them."""
