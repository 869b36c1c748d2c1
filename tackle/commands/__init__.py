"""The commands beside the screens: JSON lines in, JSON lines out, one file each."""
