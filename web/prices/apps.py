from django.apps import AppConfig


class Prices(AppConfig):
    """Keeps what lures cost. Its tables are named for the step that shows them."""

    name = "web.prices"
    label = "buy"
