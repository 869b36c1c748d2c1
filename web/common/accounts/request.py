"""The request as the middleware hands it on to a view."""

from django.http import HttpRequest
from django_htmx.middleware import HtmxDetails

from web.common.accounts.models import User


class OwnRequest(HttpRequest):
    """Of somebody who is signed in: no other request reaches a view that is not open to all."""

    user: User
    htmx: HtmxDetails
