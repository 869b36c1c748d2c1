from django.urls import path

from web.sight import views

urlpatterns = [
    path("", views.sight, name="sight"),
    path("sure/", views.sure, name="sight-sure"),
]
