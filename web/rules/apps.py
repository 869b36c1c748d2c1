from django.apps import AppConfig


class Rules(AppConfig):
    """Keeps house rules. Its tables are named for the step that shows them."""

    name = "web.rules"
    label = "schools"
