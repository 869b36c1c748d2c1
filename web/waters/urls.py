from django.urls import path

from web.waters import views

urlpatterns = [
    path("", views.waters, name="waters"),
    path("new/", views.edit, name="water-new"),
    path("<int:pk>/", views.water, name="water"),
    path("<int:pk>/edit/", views.edit, name="water-edit"),
    path("<int:pk>/days/", views.days, name="water-days"),
    path("<int:pk>/delete/", views.delete, name="water-delete"),
]
