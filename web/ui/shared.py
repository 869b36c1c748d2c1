"""What was worked out of what people own, where all processes of a server find it; emptied when somebody is deleted."""

from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Final

from django.conf import settings

from web.ui.slots import Slots

_ALONE: Final = None if settings.PARTS else TemporaryDirectory(prefix="wax-parts-")  # of a process by itself
SHARED: Final = Slots(Path(_ALONE.name if _ALONE else settings.PARTS), count=20_000, most=200_000)
