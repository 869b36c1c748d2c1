"""What of somebody's is here, as one file; an archive read in; and everything gone for good."""

from django.contrib import messages
from django.contrib.auth import logout
from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from tackle.base.numbers import read_whole
from tackle.base.store import STORE
from web.common.accounts.models import User
from web.common.accounts.request import OwnRequest
from web.common.accounts.throttle import right_password
from web.common.serving.bounds import takes
from web.common.work.heavy import begin, waited_for
from web.common.work.services import begin as new_job
from web.pages.archive import services, tasks
from web.pages.archive.shelves import shelves


def archive(request: OwnRequest) -> HttpResponse:
    return _page(request)


@require_POST
def download(request: OwnRequest) -> HttpResponse:
    """An archive is written; one that was written before makes room for it."""
    name = f"wax-crate-{request.user.username}-{timezone.localdate().isoformat()}.zip"
    try:
        job = services.begin_archive(request.user, name, reverse("archive"))
    except ValidationError as error:
        return _page(request, " ".join(error.messages))
    return waited_for(request, begin(tasks.write, job))


@takes(services.MOST_BYTES)
@require_POST
def take_in(request: OwnRequest) -> HttpResponse:
    file = request.FILES.get("file")
    if file is None or (file.size or 0) > services.MOST_BYTES:
        return _page(request, f"Choose an archive of at most {services.MOST_BYTES // 1_000_000} MB.")
    if services.not_empty(request.user):
        return _page(request, "There are things in this account already: an archive goes into an empty one.")
    try:
        job = new_job(request.user, "take-in", reverse("archive"), name=(file.name or "")[:120], file=file)
    except ValidationError as error:
        return _page(request, " ".join(error.messages))
    job = begin(tasks.take_in, job)
    return _page(request, job.wrong) if job.wrong else waited_for(request, job)


@require_POST
def delete(request: OwnRequest) -> HttpResponse:
    """Everything gone, once the password is given again; a guest has none, and is asked for nothing."""
    owner = request.user
    if owner.has_usable_password() and not right_password(request, owner, request.POST.get("password", "")):
        return _page(request, not_so="That is not your password: nothing was deleted.")
    owner = User.objects.get(pk=owner.pk)
    logout(request)
    services.delete_account(owner)
    STORE.clear()
    messages.success(request, "Your account and everything in it is deleted.")
    return redirect("sign-in")


def _page(request: OwnRequest, wrong: str = "", not_so: str = "") -> HttpResponse:
    counts = {
        shelf.label: shelf.model._default_manager.filter(**{shelf.owner: request.user}).count() for shelf in shelves()
    }
    context = {
        "waters": counts["waters.Water"],
        "lures": counts["crate.Lure"],
        "trips": counts["day.Trip"],
        "turns": counts["day.Turn"],
        "kept": counts["plans.KeptPlan"],
        "pictures": counts["crate.Picture"],
        "empty": not any(counts.values()),
        "taken": read_whole(request.GET.get("taken", ""), 1, 10**9),
        "wrong": wrong,
        "not_so": not_so,
    }
    return render(request, "archive/archive.html", context, status=422 if wrong or not_so else 200)
