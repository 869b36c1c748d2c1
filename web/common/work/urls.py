from django.urls import path

from web.common.work import views

urlpatterns = [
    path("<int:pk>/", views.show, name="work"),
    path("<int:pk>/file/", views.file, name="work-file"),
    path("<int:pk>/again/", views.again, name="work-again"),
]
