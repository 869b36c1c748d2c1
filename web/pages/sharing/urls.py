from django.urls import path

from web.pages.sharing import views

urlpatterns = [
    path("", views.links, name="links"),
    path("make/", views.make, name="share-make"),
    path("<int:pk>/end/", views.end, name="share-end"),
    path("<str:key>/", views.shown, name="shown"),
    path("<str:key>/copy/", views.copy, name="share-copy"),
]
