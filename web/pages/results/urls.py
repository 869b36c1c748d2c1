from django.urls import path

from web.pages.results import views

urlpatterns = [
    path("", views.learned, name="learned"),
    path("moved/", views.moved, name="learned-moved"),
    path("rule/", views.rule, name="learned-rule"),
]
