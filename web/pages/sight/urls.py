from django.urls import path

from web.pages.sight import owned, views

urlpatterns = [
    path("", views.sight, name="sight"),
    path("doubles/", owned.doubles, name="sight-doubles"),
    path("planned/", owned.planned, name="sight-planned"),
    path("sure/", views.sure, name="sight-sure"),
]
