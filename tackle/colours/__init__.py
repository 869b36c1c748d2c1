"""Colour cards and how alike two of them are."""
