"""How far a piece of heavy work is."""

from django.http import Http404, HttpResponse, StreamingHttpResponse
from django.shortcuts import get_object_or_404
from django.utils.module_loading import import_string
from django.views.decorators.http import require_POST

from web.common.accounts.request import OwnRequest
from web.common.work import services
from web.common.work.heavy import begin, may_be_tried_again, waited_for
from web.common.work.kinds import KINDS
from web.common.work.models import Job
from web.common.work.pieces import iterate_pieces


def show(request: OwnRequest, pk: int) -> HttpResponse:
    """How far it is; ended, what came of it."""
    return waited_for(request, _job(request, pk))


def file(request: OwnRequest, pk: int) -> StreamingHttpResponse:
    """The file that came of a piece of work."""
    job = get_object_or_404(Job.objects.defer("content"), owner=request.user, pk=pk, ended=True)
    if not job.pieces.exists():
        raise Http404
    return StreamingHttpResponse(
        iterate_pieces(job),
        content_type=job.asked["type"],
        headers={"Content-Disposition": f'attachment; filename="{job.name}"'},
    )


@require_POST
def again(request: OwnRequest, pk: int) -> HttpResponse:
    """Does once more what was cut off."""
    job = _job(request, pk)
    if may_be_tried_again(job):
        services.again(job)
        job = begin(import_string(KINDS[job.kind]), job)
    return waited_for(request, job)


def _job(request: OwnRequest, pk: int) -> Job:
    """A piece of work of who asks, without what it is made of, which may be large."""
    return get_object_or_404(Job.objects.defer("content", "asked"), owner=request.user, pk=pk)
