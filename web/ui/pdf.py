"""Printed pages: a template set as PDF, with nothing fetched from anywhere but our own static files."""

import mimetypes
from pathlib import Path
from typing import Any
from urllib.parse import unquote, urlsplit

from django.contrib.staticfiles import finders
from django.http import HttpResponse
from django.template.loader import render_to_string


def pdf_response(template: str, context: dict[str, Any], filename: str) -> HttpResponse:
    """The template as a PDF to keep. Static files are named by their path, as in `static:/ui/paper.css`."""
    from weasyprint import HTML  # over a second to import, and most pages never print
    from weasyprint.urls import URLFetcherResponse

    def ours(url: str) -> URLFetcherResponse:
        parts = urlsplit(url)
        found = finders.find(unquote(parts.path).lstrip("/")) if parts.scheme == "static" else None
        if not found:
            raise ValueError(f"{url} is not one of our files")
        kind = mimetypes.guess_type(found)[0] or "application/octet-stream"
        return URLFetcherResponse(url, Path(found).read_bytes(), {"Content-Type": kind})

    page = HTML(string=render_to_string(template, context), base_url="static:/", url_fetcher=ours)
    return HttpResponse(
        page.write_pdf(),
        content_type="application/pdf",
        headers={"Content-Disposition": f'inline; filename="{filename}"'},
    )
