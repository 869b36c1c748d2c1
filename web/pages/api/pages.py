"""Addresses of the pages about programs, on the account."""

from django.urls import path

from web.pages.api import views

urlpatterns = [
    path("", views.tokens, name="tokens"),
    path("<int:pk>/end/", views.end, name="token-end"),
    path("interface/", views.interface, name="interface"),
]
