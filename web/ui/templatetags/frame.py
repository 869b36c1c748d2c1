"""What stands around every page, drawn once for what it shows."""

from functools import lru_cache
from typing import Any

from django import template
from django.template.loader import render_to_string
from django.utils.safestring import SafeString

from web.ui.drawn import drawn_once

register = template.Library()


@register.simple_tag
@lru_cache(maxsize=1)
def head() -> SafeString:
    """The styles and scripts that every page has."""
    return render_to_string("ui/head.html")


@register.simple_tag(takes_context=True)
def rail(context: dict[str, Any]) -> SafeString:
    """The steps of the work and the keys, for somebody signed in."""
    match, user = context["request"].resolver_match, context["user"]
    shows = {
        "step": context["step"],
        "asking": bool(match) and match.url_name == "ask",
        "name": user.username,
        "guest": bool(user.guest_until),
    }
    return drawn_once("ui/rail.html", tuple(shows.values()), lambda: shows | {"steps": context["steps"]})
