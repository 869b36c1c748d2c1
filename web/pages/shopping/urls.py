from django.urls import path

from web.pages.plans.ahead import planned_ahead
from web.pages.shopping import views

urlpatterns = [
    path("", planned_ahead(views.buy), name="buy"),
    path("price/", views.price, name="buy-price"),
    path("list.csv", views.to_buy_csv, name="buy-csv"),
    path("list.pdf", views.as_pdf, name="buy-pdf"),
    path("bought/<slug:category>/<slug:card_id>/", views.tick, name="buy-tick"),
]
