from django.apps import AppConfig


class Colours(AppConfig):
    """The pages of the step; what they show is kept elsewhere."""

    name = "web.colours"
    label = "colours_pages"
