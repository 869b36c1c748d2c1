"""Printed pages, set by the process for heavy work and kept by what stands on them, with the work that made them."""

import hashlib
import io
import zlib
from collections.abc import Mapping
from datetime import timedelta
from typing import Any, Final

from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.template.loader import render_to_string

from web.common.accounts.request import OwnRequest
from web.common.accounts.throttle import Limit, TooOften, count_by, too_many_by, wait_s
from web.common.ui.pdf import render_pdf
from web.common.work import services
from web.common.work.heavy import Outcome, Tell, begin, heavy, waited_for
from web.common.work.models import Job
from web.common.work.pieces import iterate_pieces

AN_HOUR: Final = Limit("paper", 60, timedelta(hours=1))  # pages set for one account


def paper(request: OwnRequest, template: str, context: Mapping[str, Any], filename: str) -> HttpResponse:
    """What a template draws, as a PDF; or how far it is, or why it is not made now."""
    made = printed(request, template, context)
    if not isinstance(made, bytes):
        return made
    headers = {"Content-Disposition": f'inline; filename="{filename}"'}
    return HttpResponse(made, content_type="application/pdf", headers=headers)


def printed(request: OwnRequest, template: str, context: Mapping[str, Any]) -> bytes | HttpResponse:
    """The PDF where it is made already, or in a moment; else the answer to give instead. Raises TooOften."""
    page, owner = render_to_string(template, dict(context)), request.user
    mark = hashlib.sha256(page.encode()).hexdigest()
    papers = Job.objects.filter(owner=owner, kind="paper", asked__mark=mark).defer("content")
    job = papers.filter(ended=True, wrong="").first() or papers.filter(ended=False).first()
    if job is None:
        who = f"account {owner.pk}"
        if too_many_by(who, AN_HOUR):
            raise TooOften(f"{AN_HOUR.times} pages an hour are set for one account.", wait_s(who, AN_HOUR))
        try:
            content = zlib.compress(page.encode())
            job = services.begin(owner, "paper", request.get_full_path(), asked={"mark": mark}, content=content)
        except ValidationError as error:
            raise TooOften(" ".join(error.messages), 30) from error
        count_by(who, AN_HOUR)
        job = begin(print_paper, job)
    if job.ended and not job.wrong:
        return b"".join(iterate_pieces(job))
    return waited_for(request, job)


@heavy
def print_paper(job: Job, tell: Tell) -> Outcome:
    """Sets a page."""
    tell("Setting the page", 0, 0)
    services.keep_file(job, io.BytesIO(render_pdf(zlib.decompress(bytes(job.content)).decode())))
    return Outcome(to=job.back)
