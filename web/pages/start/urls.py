from django.urls import path

from web.pages.start import front, views

urlpatterns = [
    path("", views.water, name="start"),
    path("so-far/", views.so_far, name="start-so-far"),
    path("lures/", views.lures, name="start-lures"),
    path("owned/", views.owned, name="start-owned"),
    path("board/", front.board, name="front-board"),
    path("mine/", front.make_mine, name="front-mine"),
    path("try/", views.try_it, name="start-try"),
]
