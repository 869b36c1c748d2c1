from django.urls import path

from web.pages.check import bench

urlpatterns = [
    path("bench/", bench.bench, name="crate-bench"),
    path("bench/evening.pdf", bench.evening, name="bench-evening"),
]
