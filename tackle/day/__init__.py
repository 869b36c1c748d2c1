"""One day on the water: what goes into the day's tray."""
