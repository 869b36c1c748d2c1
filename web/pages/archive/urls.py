from django.urls import path

from web.pages.archive import views

urlpatterns = [
    path("", views.archive, name="archive"),
    path("wax-crate/", views.download, name="archive-download"),
    path("take-in/", views.take_in, name="archive-take-in"),
    path("delete/", views.delete, name="account-delete"),
]
