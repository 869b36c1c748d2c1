from django.urls import path

from web.pages.colours import views

urlpatterns = [
    path("", views.colours, name="colours"),
    path("ask/", views.question, name="ask"),
    path("compare/", views.compare, name="compare"),
    path("own/new/", views.own, name="card-new"),
    path("own/<slug:card_id>/", views.own, name="card-own"),
    path("own/<slug:card_id>/drop/", views.drop, name="card-drop"),
    path("own/<slug:card_id>/back/", views.bring_back, name="card-back"),
    path("<slug:card_id>/", views.card, name="card"),
]
