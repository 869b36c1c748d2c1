"""The apps whose tables have another name than their folder."""

from django.apps import AppConfig


class Rulebooks(AppConfig):
    name = "web.domain.rulebooks"
    label = "schools"


class Shopping(AppConfig):
    name = "web.domain.shopping"
    label = "buy"


class Trips(AppConfig):
    name = "web.domain.trips"
    label = "day"
