"""Heavy work in a queue in the database, done by a process of its own; whoever asked for it waits a moment for it."""

import logging
from collections.abc import Callable
from dataclasses import dataclass
from datetime import timedelta
from functools import wraps
from time import monotonic, sleep
from typing import Final

from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django_tasks import task
from django_tasks.base import Task

from tackle.errors import Refused
from web.accounts.request import OwnRequest
from web.ui.logs import event
from web.work import changes
from web.work.models import Job

logger = logging.getLogger(__name__)
WAIT_S: Final = 1.5  # for which a request waits for an answer before it shows how far the work is
LOOK_S: Final = 0.05
TOLD: Final = ("done", "total", "doing", "to", "drawn", "wrong", "told_at", "ended")  # what it is made of stays away
QUIET: Final = timedelta(seconds=90)  # after which work that tells nothing was cut off
BROKEN: Final = "Something went wrong with it, which is our fault. What you sent is still here."
CUT_OFF: Final = "The work was cut off half-way. What you sent is still here."

Tell = Callable[[str, int, int], None]  # what is being done, how many of how many


@dataclass(frozen=True, slots=True)
class Outcome:
    """What came of a piece of work: an address to go to, or a piece of the page that asked."""

    to: str = ""
    drawn: str = ""


def heavy(work: Callable[[Job, Tell], Outcome]) -> "Task[[int], None]":
    """A task that does a piece of work, whose refusals are told to who waits for it."""

    @wraps(work)
    def whole(pk: int) -> None:
        job = Job.objects.select_related("owner").filter(pk=pk, ended=False).first()
        if job is None:  # taken back, or done already
            return
        changes.tell(job, "Begun")
        try:
            came = work(job, lambda doing, done, total: changes.tell(job, doing, done, total))
        except ValidationError as error:
            changes.end(job, wrong=" ".join(error.messages))
        except Refused as refused:
            changes.end(job, wrong=f"{refused}.")
        except Exception:
            logger.exception(event("work-failed", kind=job.kind, job=job.pk))
            changes.end(job, wrong=BROKEN, again=True)
        else:
            changes.end(job, to=came.to, drawn=came.drawn)

    return task(whole)


def begin(what: "Task[[int], None]", job: Job, at_once: bool = False) -> Job:
    """Puts work into the queue, or, where it is quick, does it at once; the job as it is after a moment."""
    (what.using(backend="at-once") if at_once else what).enqueue(job.pk)
    until = monotonic() + WAIT_S
    while True:
        job.refresh_from_db(fields=TOLD)
        if job.ended or monotonic() > until:
            return job
        sleep(LOOK_S)


def stands_still(job: Job) -> bool:
    """Whether nothing has been heard of work that has not ended: cut off, or nobody takes it from the queue."""
    return not job.ended and timezone.now() - job.told_at > QUIET


def may_be_tried_again(job: Job) -> bool:
    """Whether it broke, or was cut off half-way: what it is made of is still here."""
    return job.wrong == BROKEN or bool(job.doing and stands_still(job))


def waited_for(request: OwnRequest, job: Job) -> HttpResponse:
    """What came of a piece of work, or how far it is: as a page, or as the piece of one that asked."""
    if job.to:
        if request.htmx:
            return HttpResponse(headers={"HX-Redirect": job.to})
        return redirect(job.to)
    if job.drawn:
        return HttpResponse(job.drawn)
    wrong = job.wrong or (CUT_OFF if job.doing and stands_still(job) else "")
    nobody = stands_still(job) and not job.doing
    context = {"job": job, "wrong": wrong, "nobody": nobody, "again": may_be_tried_again(job)}
    template = "work/wait_body.html" if request.htmx else "work/wait.html"
    return render(request, template, context, status=422 if wrong else 200)
