from django.apps import AppConfig


class Stock(AppConfig):
    """Keeps what is owned. Its tables are named for the step that shows them."""

    name = "web.stock"
    label = "crate"
