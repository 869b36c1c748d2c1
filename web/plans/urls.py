from django.urls import path

from web.plans import views

urlpatterns = [
    path("", views.plan, name="plan"),
    path("settings/", views.settings, name="plan-settings"),
    path("settle/<slug:category>/", views.settle, name="plan-settle"),
    path("why/<slug:category>/<slug:band>/<slug:light>/", views.why, name="plan-why"),
]
