"""What was sent twice is done once: each form carries a key of its own, and a key is honoured once for its owner."""

import hashlib
import re
from collections.abc import Callable
from datetime import timedelta
from time import monotonic, sleep
from typing import Final
from urllib.parse import urlsplit

from django.db import IntegrityError, transaction
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.utils import timezone
from django.utils.http import url_has_allowed_host_and_scheme

from web.common.accounts.models import Sent, User

FIELD: Final = "once"
_KEY: Final = re.compile(r"[A-Za-z0-9-]{16,64}")
KEPT: Final = timedelta(days=1)
WAIT_S, LOOK_S = 8.0, 0.05  # for which a second press waits for what came of the first

Answer = Callable[[HttpRequest], HttpResponse]


def done_once(get_response: Answer) -> Answer:
    """Does what a form asks for, and for its second press answers as for the first; what changed nothing may be sent
    again."""

    def answer(request: HttpRequest) -> HttpResponse:
        if request.method != "POST" or not isinstance(request.user, User):
            return get_response(request)
        key = request.POST.get(FIELD, "")
        if not _KEY.fullmatch(key):
            return get_response(request)
        mark = hashlib.sha256(f"{request.path} {key}".encode()).hexdigest()
        if not _claimed(request.user, mark):
            return _again(request, mark)
        mine = Sent.objects.filter(owner_id=request.user.pk, mark=mark)
        before = request.user.version
        response = get_response(request)
        after = request.user.version if isinstance(request.user, User) else before  # who signed out is nobody now
        if response.status_code >= 400 or after == before:
            mine.delete()
        else:
            to = response.headers.get("HX-Redirect") or response.headers.get("Location", "")
            mine.update(done=True, to=to[:300])
        return response

    return answer


def forget_sent() -> None:
    """Keys go after a day."""
    Sent.objects.filter(at__lt=timezone.now() - KEPT).delete()


def _claimed(owner: User, mark: str) -> bool:
    try:
        with transaction.atomic():
            Sent.objects.create(owner=owner, mark=mark)
    except IntegrityError:
        return False
    return True


def _again(request: HttpRequest, mark: str) -> HttpResponse:
    """What the second press of a button is answered: where the first one led to, or the page it stands on."""
    until = monotonic() + WAIT_S
    while (row := Sent.objects.filter(owner_id=request.user.pk, mark=mark).first()) and not row.done:
        if monotonic() > until:
            break
        sleep(LOOK_S)
    to = row.to if row else ""
    if request.headers.get("HX-Request"):
        return HttpResponse(status=204, headers={"HX-Redirect": to} if to else {})
    back = request.headers.get("Referer", "")
    if not url_has_allowed_host_and_scheme(back, {request.get_host()}):
        back = "/"
    there = urlsplit(back)
    return HttpResponseRedirect(to or f"{there.path}?{there.query}")
