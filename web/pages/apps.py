"""The pages whose label would be that of the tables they show, or has tables of another name."""

from django.apps import AppConfig


class Waters(AppConfig):
    name = "web.pages.waters"
    label = "waters_pages"


class Colours(AppConfig):
    name = "web.pages.colours"
    label = "colours_pages"


class Crate(AppConfig):
    name = "web.pages.crate"
    label = "crate_pages"


class Plans(AppConfig):
    name = "web.pages.plans"
    label = "plans_pages"


class Learn(AppConfig):
    name = "web.pages.learn"
    label = "teach"
