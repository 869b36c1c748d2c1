from django.urls import path

from web.day import views, water

urlpatterns = [
    path("", views.day, name="day"),
    path("new/", views.new, name="trip-new"),
    path("<int:pk>/", views.trip, name="trip"),
    path("<int:pk>/edit/", views.edit, name="trip-edit"),
    path("<int:pk>/forecast/", views.forecast, name="trip-forecast"),
    path("<int:pk>/light/", views.light, name="trip-light"),
    path("<int:pk>/delete/", views.delete, name="trip-delete"),
    path("<int:pk>/water/", water.on_water, name="trip-water"),
    path("<int:pk>/taps/", water.taps, name="trip-taps"),
    path("<int:pk>/meter/", water.meter, name="trip-meter"),
    path("<int:pk>.pdf", views.sheet, name="trip-sheet"),
]
