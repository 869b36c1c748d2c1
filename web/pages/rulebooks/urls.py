from django.urls import path

from web.pages.rulebooks import views

urlpatterns = [
    path("", views.rules, name="rules"),
    path("<slug:school>/read/", views.read, name="school-read"),
    path("<slug:school>/<path:call>/change/", views.change, name="call-change"),
    path("<slug:school>/<path:call>/off/", views.off, name="call-off"),
    path("make/", views.make, name="rule-make"),
    path("take-in/", views.take_in, name="rules-take-in"),
    path("<int:pk>/switch/", views.switch, name="rule-switch"),
    path("<int:pk>/delete/", views.delete, name="rule-delete"),
    path("export/<slug:school>.toml", views.export, name="rules-export"),
]
