"""Every change to a piece of heavy work. None is part of what its owner owns, and none waits for another."""

from collections.abc import Mapping
from datetime import timedelta
from itertools import count
from typing import IO, Any, Final

from django.core.exceptions import ValidationError
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from web.common.accounts.models import User
from web.common.work.models import Job, Piece

PIECE_BYTES: Final = 1_000_000
MOST_JOBS, MOST_AT_ONCE = 20, 8  # of one owner: the ended ones included, and those that have not
QUIET: Final = timedelta(seconds=90)  # after which work that tells nothing was cut off
CUT_OFF: Final = "The work was cut off half-way. What you sent is still here."


def begin(
    owner: User,
    kind: str,
    back: str,
    *,
    name: str = "",
    asked: Mapping[str, Any] | None = None,
    content: bytes = b"",
    file: IO[bytes] | None = None,
) -> Job:
    """A new piece of work, made of a few bytes or of a file; the oldest of too many that have ended go. Raises
    ValidationError."""
    cut_off_silent(owner)
    if Job.objects.filter(owner=owner, ended=False).count() >= MOST_AT_ONCE:
        raise ValidationError(f"{MOST_AT_ONCE} things are being worked on for you already: wait for one of them.")
    job = Job.objects.create(
        owner=owner, kind=kind, back=back[:200], name=name[:120], asked=dict(asked or {}), content=content
    )
    if file:
        keep_file(job, file)
    kept = list(Job.objects.filter(owner=owner).values_list("pk", flat=True)[:MOST_JOBS])
    Job.objects.filter(owner=owner, ended=True).exclude(pk__in=kept).delete()
    return job


def keep_file(job: Job, file: IO[bytes]) -> None:
    """Keeps a file with a piece of work, in the place of what it was made of."""
    job.pieces.all().delete()
    for place in count():
        content = file.read(PIECE_BYTES)
        if not content:
            break
        Piece.objects.create(job=job, place=place, content=content)


def tell(job: Job, doing: str, done: int = 0, total: int = 0) -> None:
    """Says how far it is."""
    Job.objects.filter(pk=job.pk).update(doing=doing[:80], done=done, total=total, told_at=timezone.now())


def end(job: Job, *, to: str = "", drawn: str = "", wrong: str = "", again: bool = False) -> None:
    """Says what came of it; what it was made of goes, unless it may be tried `again`."""
    data: dict[str, Any] = {"to": to, "drawn": drawn, "wrong": wrong[:300], "ended": True, "told_at": timezone.now()}
    if not again:
        data["content"] = b""
        if not to:
            job.pieces.all().delete()
    Job.objects.filter(pk=job.pk).update(**data)


def cut_off(pk: int) -> None:
    """Says that a piece of work has ended half-way: it may be tried again, and counts no longer."""
    end(Job(pk=pk), wrong=CUT_OFF, again=True)


def cut_off_silent(owner: User) -> None:
    """Ends what nothing is at work on and nothing waits to be: of which nothing was heard for longer than it may be."""
    silent = Job.objects.filter(owner=owner, ended=False, told_at__lt=timezone.now() - QUIET)
    for pk, doing in silent.values_list("pk", "doing"):
        if doing or not in_line(pk):
            cut_off(pk)


def in_line(pk: int) -> bool:
    """Whether a piece of work waits in the queue: where its process was killed as it took it, it does not."""
    return DBTaskResult.objects.ready().filter(args_kwargs__args=[pk]).exists()


def before_it(job: Job) -> int:
    """How many pieces of work the same owner has that have not ended, and were begun before."""
    return Job.objects.filter(owner=job.owner_id, ended=False, pk__lt=job.pk).count()


def others_at_work(job: Job) -> bool:
    """Whether another piece of the same owner's is at work."""
    mine = Job.objects.filter(owner=job.owner_id, ended=False, told_at__gt=timezone.now() - QUIET)
    return mine.exclude(pk=job.pk).exclude(doing="").exists()


def keep_found(job: Job, found: Mapping[str, Any], with_file: bool = False) -> None:
    """Keeps what was found with what was asked, to be looked at; what it was made of goes, unless it may be read
    again."""
    Job.objects.filter(pk=job.pk).update(asked={**job.asked, "found": found})
    if not with_file:
        job.pieces.all().delete()


def drop_file(job: Job) -> None:
    """Lets the file of a piece of work go."""
    job.pieces.all().delete()


def ask_anew(job: Job, **asked: Any) -> None:
    """Puts a piece of work back to its beginning, with other wishes."""
    Job.objects.filter(pk=job.pk).update(asked={**job.asked, **asked}, to="")
    again(job)
    job.refresh_from_db()


def again(job: Job) -> None:
    """Puts a piece of work that was cut off back to its beginning."""
    Job.objects.filter(pk=job.pk).update(doing="", done=0, total=0, wrong="", ended=False, told_at=timezone.now())


def job_for(owner: User, kind: str, asked: Mapping[str, Any]) -> Job | None:
    """The piece of work of a kind that was begun for what is asked."""
    return Job.objects.filter(owner=owner, kind=kind, asked=asked).first()


def forget(owner: User, kind: str) -> None:
    """Forgets the pieces of work of a kind that have ended, with their files."""
    Job.objects.filter(owner=owner, kind=kind, ended=True).delete()
