"""A situation on the water: clarity, light at the lure, season, and everything a school may ask about."""
