"""Messages that can always be written: a name out of somebody's file may hold anything."""

from django.contrib.messages.storage.fallback import FallbackStorage
from django.template.loader import render_to_string
from django.utils.safestring import SafeString

from tackle.base.strict import plain


def no_notice() -> SafeString:
    """What takes the last notice off a page."""
    return render_to_string("ui/no_notice.html")


class CleanStorage(FallbackStorage):
    """Django's own, with what is no text left out of each message, and none longer than can be read."""

    def add(self, level: int, message: str, extra_tags: str | None = "") -> None:
        super().add(level, plain(str(message))[:1000], extra_tags)
