"""Small signs that stand on many pages, drawn once for all of them."""

from collections.abc import Hashable
from functools import lru_cache

from django.template.loader import render_to_string
from django.utils.safestring import SafeString


@lru_cache(maxsize=4096)
def sign(template: str, **shows: Hashable) -> SafeString:
    """What a template draws of some words."""
    return render_to_string(template, shows)
