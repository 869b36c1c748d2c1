from django.urls import path

from web.plans import keeping, views
from web.plans.ahead import planned_ahead

urlpatterns = [
    path("", planned_ahead(views.plan), name="plan"),
    path("settings/", views.settings, name="plan-settings"),
    path("settle/<slug:category>/", views.settle, name="plan-settle"),
    path("overview/", planned_ahead(keeping.overview), name="plan-overview"),
    path("overview.pdf", keeping.overview_pdf, name="plan-pdf"),
    path("travel/", planned_ahead(views.travel), name="plan-travel"),
    path("sure/<slug:category>/", views.sure, name="plan-sure"),
    path("keep/", keeping.keep, name="plan-keep"),
    path("compare/", keeping.compare, name="plan-compare"),
    path("kept/<int:pk>/", keeping.show, name="plan-kept"),
    path("kept/<int:pk>/delete/", keeping.delete, name="kept-delete"),
    path("kept/<int:pk>/again/", keeping.again, name="kept-again"),
    path("kept/<int:pk>/check/", keeping.check, name="kept-check"),
    path("kept/<int:pk>/take-up/", keeping.take_up, name="kept-take-up"),
    path("why/<slug:category>/<slug:band>/<slug:light>/", views.why, name="plan-why"),
]
