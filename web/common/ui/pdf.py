"""Printed pages: a page set as PDF, with nothing fetched from anywhere but our own static files."""

import mimetypes
from pathlib import Path
from urllib.parse import unquote, urlsplit

from django.contrib.staticfiles import finders


def render_pdf(page: str) -> bytes:
    """A page as a PDF. Static files are named by their path, as in `static:/ui/paper.css`."""
    from weasyprint import HTML  # over a second to import, and most pages never print
    from weasyprint.urls import URLFetcherResponse

    def ours(url: str) -> URLFetcherResponse:
        parts = urlsplit(url)
        found = finders.find(unquote(parts.path).lstrip("/")) if parts.scheme == "static" else None
        if not found:
            raise ValueError(f"{url} is not one of our files")
        kind = mimetypes.guess_type(found)[0] or "application/octet-stream"
        return URLFetcherResponse(url, Path(found).read_bytes(), {"Content-Type": kind})

    made: bytes = HTML(string=page, base_url="static:/", url_fetcher=ours).write_pdf(pdf_tags=True)
    return made
