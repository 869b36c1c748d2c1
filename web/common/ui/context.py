"""What every page knows: where one can go, and the units its reader likes."""

from typing import Any

from django.http import HttpRequest

# In the order of use; those with `more` stand behind one press on a phone. `at`: the first part of their addresses.
STEPS = (
    {"url": "plan", "at": "plan", "name": "Plan", "key": "p"},
    {"url": "crate", "at": "crate", "name": "Tackle box", "key": "c"},
    {"url": "day", "at": "day", "name": "Trips", "key": "d"},
    {"url": "ask", "at": "ask", "name": "What to throw", "key": "t"},
    {"url": "waters", "at": "waters", "name": "Waters", "key": "w", "more": True},
    {"url": "buy", "at": "buy", "name": "Shopping list", "key": "b", "more": True},
    {"url": "colours", "at": "colours", "name": "Colours", "key": "l", "more": True},
    {"url": "teach", "at": "teach", "name": "Learn", "key": "n", "more": True},
    {"url": "account", "at": "account", "name": "Account", "key": "u", "more": True},
)


def page(request: HttpRequest) -> dict[str, Any]:
    match = getattr(request, "resolver_match", None)
    user = getattr(request, "user", None)
    return {
        "steps": STEPS,
        "step": match.route.split("/")[0] if match else "",
        "units": getattr(user, "units", "imperial"),
    }
