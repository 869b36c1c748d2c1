"""The app's addresses, and beside them the least that a Django view can do."""

from django.http import HttpRequest, HttpResponse
from django.urls import path

from web.domain.crate.models import Lure
from web.urls import urlpatterns as app


def bare(request: HttpRequest) -> HttpResponse:
    """One indexed query: of one row, in the index's own order, however many there are."""
    return HttpResponse(str(Lure.objects.filter(category="worm").order_by("pk").first()))


urlpatterns = [*app, path("bare/", bare)]
