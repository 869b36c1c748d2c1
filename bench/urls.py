"""The app's addresses, and beside them the least that a Django view can do."""

from django.http import HttpRequest, HttpResponse
from django.urls import path

from web.stock.models import Lure
from web.urls import urlpatterns as app


def bare(request: HttpRequest) -> HttpResponse:
    """One indexed query."""
    return HttpResponse(str(Lure.objects.filter(category="worm").first()))


urlpatterns = [*app, path("bare/", bare)]
