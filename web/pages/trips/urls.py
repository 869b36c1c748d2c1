from django.urls import path

from web.pages.trips import afterwards, exchange, views, water

urlpatterns = [
    path("", views.day, name="day"),
    path("new/", views.new, name="trip-new"),
    path("<int:pk>/", views.trip, name="trip"),
    path("<int:pk>/edit/", views.edit, name="trip-edit"),
    path("<int:pk>/forecast/", views.forecast, name="trip-forecast"),
    path("<int:pk>/light/", views.light, name="trip-light"),
    path("<int:pk>/by-hand/", views.by_hand, name="trip-by-hand"),
    path("<int:pk>/packed/", views.packed, name="trip-packed"),
    path("here/", views.here, name="trip-here"),
    path("<int:pk>/postpone/", views.postpone, name="trip-postpone"),
    path("<int:pk>/back/", views.bring_back, name="trip-back"),
    path("<int:pk>/delete/", views.delete, name="trip-delete"),
    path("<int:pk>/water/", water.on_water, name="trip-water"),
    path("<int:pk>/taps/", water.taps, name="trip-taps"),
    path("<int:pk>/repack/", water.repack, name="trip-repack"),
    path("<int:pk>/meter/", water.meter, name="trip-meter"),
    path("<int:pk>/log/", afterwards.log, name="trip-log"),
    path("<int:pk>/log/lines/", afterwards.lines, name="log-lines"),
    path("<int:pk>/log/turn/", afterwards.turn, name="log-turn"),
    path("<int:pk>/log/move/", afterwards.move, name="log-move"),
    path("<int:pk>/log/counts/", afterwards.counts, name="log-counts"),
    path("log.<slug:kind>", exchange.export, name="log-export"),
    path("log/in/", exchange.take_in, name="log-import"),
    path("<int:pk>.ics", views.calendar, name="trip-calendar"),
    path("<int:pk>.pdf", views.sheet, name="trip-sheet"),
]
