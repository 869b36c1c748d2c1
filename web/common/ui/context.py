"""What every page knows: the steps of the work, and the units its reader likes."""

from typing import Any

from django.http import HttpRequest

STEPS = (
    {"url": "waters", "name": "Waters", "about": "where, when", "key": "w", "outdoors": True},
    {"url": "colours", "name": "Colours", "about": "the sticks", "key": "l"},
    {"url": "plan", "name": "Plan", "about": "fewest that are right", "key": "p"},
    {"url": "crate", "name": "Crate", "about": "what you own", "key": "c", "outdoors": True},
    {"url": "buy", "name": "Buy", "about": "in order", "key": "b"},
    {"url": "day", "name": "Day", "about": "tonight's tray", "key": "d", "outdoors": True},
    {"url": "teach", "name": "Teach", "about": "one, two, three", "key": "t"},
)


def page(request: HttpRequest) -> dict[str, Any]:
    match = getattr(request, "resolver_match", None)
    user = getattr(request, "user", None)
    return {
        "steps": STEPS,
        "step": match.route.split("/")[0] if match else "",
        "units": getattr(user, "units", "imperial"),
    }
