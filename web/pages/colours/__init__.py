"""The colours: the palette, an angler's own cards, and the Ask page."""
