from django.urls import path

from web.pages.waters import records, views

urlpatterns = [
    path("", views.waters, name="waters"),
    path("new/", views.edit, name="water-new"),
    path("take-in/", views.take_in, name="water-take-in"),
    path("compare/", views.compare, name="water-compare"),
    path("<int:pk>/", views.water, name="water"),
    path("<int:pk>/edit/", views.edit, name="water-edit"),
    path("<int:pk>/rules/", views.rules, name="water-rules"),
    path("<int:pk>/month/<int:number>/", views.month, name="water-month"),
    path("<int:pk>/month/<int:number>/form/", views.month_form, name="water-month-form"),
    path("<int:pk>/note/", views.note, name="water-note"),
    path("<int:pk>/meter/", views.meter, name="water-meter"),
    path("<int:pk>/reading/<int:reading_pk>/delete/", views.delete_reading, name="reading-delete"),
    path("<int:pk>/seen/<int:sighting_pk>/delete/", views.delete_sighting, name="sighting-delete"),
    path("<int:pk>/tide/", records.tide, name="water-tide"),
    path("<int:pk>/gauge/", records.ask_gauge, name="water-gauge"),
    path("<int:pk>/record/", records.give, name="water-record"),
    path("<int:pk>/record/<int:job_pk>/", records.look, name="water-record-look"),
    path("<int:pk>/record/<int:job_pk>/settle/", records.settle_record, name="water-record-settle"),
    path("<int:pk>/record/<int:job_pk>/take/", records.take, name="water-record-take"),
    path("<int:pk>/forecast/", views.forecast, name="water-forecast"),
    path("<int:pk>/half-life/", views.half_life, name="water-half-life"),
    path("<int:pk>/rare/", views.rare, name="water-rare"),
    path("<int:pk>/copy/", views.copy, name="water-copy"),
    path("<int:pk>/take-in/", views.take_in, name="water-file"),
    path("<int:pk>/export.<slug:what>", views.export, name="water-export"),
    path("<int:pk>/year.csv", views.year_table, name="water-year-csv"),
    path("<int:pk>/delete/", views.delete, name="water-delete"),
    path("undo/<int:change_pk>/", views.undo, name="water-undo"),
]
