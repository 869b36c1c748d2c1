from django.urls import path

from web.pages.crate import printing, views
from web.pages.plans.ahead import planned_ahead

urlpatterns = [
    path("", planned_ahead(views.crate), name="crate"),
    path("add/", views.add, name="lure-add"),
    path("colours/", views.colours, name="lure-colours"),
    path("tray/", views.tray, name="tray-add"),
    path("tray/<int:pk>/", views.tray, name="tray-edit"),
    path("tray/<int:pk>/delete/", views.delete_tray, name="tray-delete"),
    path("same-forms/", views.same_forms, name="same-forms"),
    path("lure/<int:pk>/", views.edit, name="lure-edit"),
    path("lure/<int:pk>/delete/", views.delete, name="lure-delete"),
    path("lure/<int:pk>/move/", views.move, name="lure-move"),
    path("lure/<int:pk>/split/", views.split, name="lure-split"),
    path("lure/<int:pk>/merge/", views.merge, name="lure-merge"),
    path("several/", views.several, name="lures-several"),
    path("sorted/", views.sorted_trays, name="crate-sorted"),
    path("thing/<int:pk>/", views.thing, name="thing"),
    path("bring/", views.bring, name="crate-bring"),
    path("mark/", views.mark, name="crate-mark"),
    path("history/", views.history, name="crate-history"),
    path("undo/<int:pk>/", views.undo, name="crate-undo"),
    path("labels.pdf", printing.labels, name="crate-labels"),
    path("packing/", printing.packing, name="crate-packing"),
    path("packing.pdf", printing.packing_pdf, name="packing-pdf"),
]
