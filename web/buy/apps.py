from django.apps import AppConfig


class Buy(AppConfig):
    """The pages of the step; what they show is kept elsewhere."""

    name = "web.buy"
    label = "buy_pages"
