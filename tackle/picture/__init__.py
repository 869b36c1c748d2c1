"""A picture of an open tray: painted for trials, and read compartment by compartment."""
