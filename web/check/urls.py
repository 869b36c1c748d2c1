from django.urls import path

from web.check import bench

urlpatterns = [path("bench/", bench.bench, name="crate-bench")]
