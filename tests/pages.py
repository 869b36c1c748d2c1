"""Pages as a test reads them."""

import re
import subprocess


def text(response):
    """What an answer says, its lines put together: where a template's lines end is nobody's concern."""
    return re.sub(r"\n[ \t]+", " ", response.content.decode())


def printed(pdf: bytes) -> str:
    """The words of a printed page, as they lie on it."""
    return subprocess.run(
        ["pdftotext", "-layout", "-", "-"], input=pdf, capture_output=True, check=True
    ).stdout.decode()
