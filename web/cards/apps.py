from django.apps import AppConfig


class Cards(AppConfig):
    """Keeps colours of the angler's own. Its tables are named for the step that shows them."""

    name = "web.cards"
    label = "colours"
