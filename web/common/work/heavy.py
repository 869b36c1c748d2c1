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

from tackle.base.errors import InvalidInput
from web.common.accounts.request import OwnRequest
from web.common.ui.logs import event
from web.common.work import services
from web.common.work.models import Job
from web.common.work.watch import WATCH

logger = logging.getLogger(__name__)
WAIT_S: Final = 1.5  # for which a request waits for an answer before it shows how far the work is
LOOK_S: Final = 0.05
TOLD: Final = ("done", "total", "doing", "to", "drawn", "wrong", "told_at", "ended")  # what it is made of stays away
MOST_BEHIND: Final = 100  # the lowest priority there is
AGAIN: Final = timedelta(seconds=1)  # after which it is looked whether the same owner's other piece has ended
BROKEN: Final = "Something went wrong with it, which is our fault. What you sent is still here."

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
        if WATCH.on and services.others_at_work(job):  # one of an owner's at a time, so that others' are taken, too
            _in_line(queued, job, AGAIN)
            return

        def tell(doing: str, done: int, total: int) -> None:
            WATCH.heard(pk)
            services.tell(job, doing, done, total)

        tell("Begun", 0, 0)
        try:
            came = work(job, tell)
        except ValidationError as error:
            services.end(job, wrong=" ".join(error.messages))
        except InvalidInput as refused:
            services.end(job, wrong=f"{refused}.")
        except Exception:
            logger.exception(event("work-failed", kind=job.kind, job=job.pk))
            services.end(job, wrong=BROKEN, again=True)
        else:
            services.end(job, to=came.to, drawn=came.drawn)
        finally:
            WATCH.heard(None)

    queued = task(whole)
    return queued


def _in_line(what: "Task[[int], None]", job: Job, after: timedelta = timedelta()) -> None:
    """Puts work into the queue: an owner's second piece stands behind everybody's first."""
    place = -min(services.before_it(job), MOST_BEHIND)
    what.using(priority=place, run_after=timezone.now() + after if after else None).enqueue(job.pk)


def begin(what: "Task[[int], None]", job: Job, at_once: bool = False) -> Job:
    """Puts work into the queue, or, where it is quick, does it at once; the job as it is after a moment."""
    if at_once:
        what.using(backend="at-once").enqueue(job.pk)
    else:
        _in_line(what, job)
    until = monotonic() + WAIT_S
    while True:
        job.refresh_from_db(fields=TOLD)
        if job.ended or monotonic() > until:
            return job
        sleep(LOOK_S)


def stands_still(job: Job) -> bool:
    """Whether nothing has been heard of work that has not ended: cut off, or nobody takes it from the queue."""
    return not job.ended and timezone.now() - job.told_at > services.QUIET


def may_be_tried_again(job: Job) -> bool:
    """Whether it broke, or was cut off half-way: what it is made of is still here."""
    return job.wrong in (BROKEN, services.CUT_OFF)


def waited_for(request: OwnRequest, job: Job) -> HttpResponse:
    """What came of a piece of work, or how far it is: as a page, or as the piece of one that asked."""
    if stands_still(job):
        services.cut_off_silent(job.owner)
        job.refresh_from_db(fields=TOLD)
    if job.to:
        if request.htmx:
            return HttpResponse(headers={"HX-Redirect": job.to})
        return redirect(job.to)
    if job.drawn:
        return HttpResponse(job.drawn)
    context = {"job": job, "wrong": job.wrong, "nobody": stands_still(job), "again": may_be_tried_again(job)}
    template = "work/wait_body.html" if request.htmx else "work/wait.html"
    return render(request, template, context, status=422 if job.wrong else 200)
