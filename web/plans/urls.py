from django.urls import path

from web.plans import views

urlpatterns = [
    path("", views.plan, name="plan"),
    path("settings/", views.settings, name="plan-settings"),
    path("settle/<slug:category>/", views.settle, name="plan-settle"),
    path("overview/", views.overview, name="plan-overview"),
    path("overview.pdf", views.overview_pdf, name="plan-pdf"),
    path("travel/", views.travel, name="plan-travel"),
    path("sure/<slug:category>/", views.sure, name="plan-sure"),
    path("keep/", views.keep, name="plan-keep"),
    path("compare/", views.compare, name="plan-compare"),
    path("kept/<int:pk>/", views.kept, name="plan-kept"),
    path("kept/<int:pk>/delete/", views.delete_kept, name="kept-delete"),
    path("why/<slug:category>/<slug:band>/<slug:light>/", views.why, name="plan-why"),
]
