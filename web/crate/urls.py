from django.urls import path

from web.crate import views

urlpatterns = [
    path("", views.crate, name="crate"),
    path("add/", views.add, name="lure-add"),
    path("colours/", views.colours, name="lure-colours"),
    path("tray/", views.tray, name="tray-add"),
    path("same-within/", views.same_within, name="same-within"),
    path("lure/<int:pk>/", views.edit, name="lure-edit"),
    path("lure/<int:pk>/delete/", views.delete, name="lure-delete"),
    path("undo/<int:pk>/", views.undo, name="crate-undo"),
]
