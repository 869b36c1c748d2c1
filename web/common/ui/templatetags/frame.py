"""What stands around every page."""

from typing import Any

from django import template
from django.template.loader import render_to_string
from django.utils.safestring import SafeString

from tackle.base.store import STORE
from web.common.ui.signs import sign

register = template.Library()


@register.simple_tag
def head() -> SafeString:
    """The styles and scripts that every page has."""
    return sign("ui/head.html")


@register.simple_tag(takes_context=True)
def rail(context: dict[str, Any]) -> SafeString:
    """Where one can go, and the keys, for somebody signed in."""
    match, user = context["request"].resolver_match, context["user"]
    shows = {
        "step": context["step"],
        "here": "ask" if match and match.url_name == "ask" else context["step"],
        "name": user.username,
        "guest": bool(user.guest_until),
    }
    return STORE.once("rail", shows, lambda: render_to_string("ui/rail.html", shows | {"steps": context["steps"]}))
