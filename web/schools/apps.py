from django.apps import AppConfig


class Schools(AppConfig):
    """The pages of the step; what they show is kept elsewhere."""

    name = "web.schools"
    label = "schools_pages"
