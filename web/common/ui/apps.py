from pathlib import Path
from tempfile import TemporaryDirectory

from django.apps import AppConfig
from django.conf import settings


class Ui(AppConfig):
    name = "web.common.ui"

    def ready(self) -> None:
        """Gives the store its disk: a folder that all processes of a server share, or one of this process alone."""
        from tackle.base.store import STORE
        from web.common.ui.file_cache import FileCache

        if not settings.PARTS:
            self._alone = TemporaryDirectory(prefix="wax-parts-")
        STORE.disk = FileCache(Path(settings.PARTS or self._alone.name), count=20_000, most=200_000)
