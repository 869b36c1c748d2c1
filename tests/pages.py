"""Pages as a test reads them."""

import re


def text(response):
    """What an answer says, its lines put together: where a template's lines end is nobody's concern."""
    return re.sub(r"\n[ \t]+", " ", response.content.decode())
