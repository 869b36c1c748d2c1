from django.urls import path

from web.pages.plans import kept_views, views, wall
from web.pages.plans.ahead import planned_ahead
from web.pages.plans.kinds import kinds

urlpatterns = [
    path("wall.pdf", wall.wall, name="plan-wall"),
    path("board/<slug:category>.csv", wall.table, name="plan-board-csv"),
    path("board/<slug:category>.svg", wall.picture, name="plan-board-svg"),
    path("curve/<slug:category>.csv", wall.curve_table, name="plan-curve-csv"),
    path("", planned_ahead(views.plan), name="plan"),
    path("settings/", views.settings, name="plan-settings"),
    path("settle/<slug:category>/", views.settle, name="plan-settle"),
    path("overview/", planned_ahead(kept_views.overview), name="plan-overview"),
    path("overview.pdf", kept_views.overview_pdf, name="plan-pdf"),
    path("kinds/", kinds, name="plan-kinds"),
    path("travel/", planned_ahead(views.travel), name="plan-travel"),
    path("sure/<slug:category>/", views.sure, name="plan-sure"),
    path("sure/<slug:category>/other-years/", views.other_years, name="plan-other-years"),
    path("keep/", kept_views.keep, name="plan-keep"),
    path("compare/", kept_views.compare, name="plan-compare"),
    path("kept/<int:pk>/", kept_views.show, name="plan-kept"),
    path("kept/<int:pk>/delete/", kept_views.delete, name="kept-delete"),
    path("kept/<int:pk>/again/", kept_views.again, name="kept-again"),
    path("kept/<int:pk>/check/", kept_views.check, name="kept-check"),
    path("kept/<int:pk>/take-up/", kept_views.take_up, name="kept-take-up"),
    path("why/<slug:category>/<slug:band>/<slug:light>/", views.why, name="plan-why"),
]
