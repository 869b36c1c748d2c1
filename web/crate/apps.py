from django.apps import AppConfig


class Crate(AppConfig):
    """The pages of the step; what they show is kept elsewhere."""

    name = "web.crate"
    label = "crate_pages"
