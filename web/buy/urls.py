from django.urls import path

from web.buy import views

urlpatterns = [
    path("", views.buy, name="buy"),
    path("price/", views.price, name="buy-price"),
    path("list.csv", views.as_csv, name="buy-csv"),
    path("bought/<slug:category>/<slug:card_id>/", views.tick, name="buy-tick"),
]
