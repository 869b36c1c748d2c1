"""Files kept with a piece of work, read piece by piece."""

from collections.abc import Iterator
from tempfile import TemporaryFile
from typing import IO

from web.common.work.models import Job


def iterate_pieces(job: Job) -> Iterator[bytes]:
    """The file of a piece of work, never all of it at once."""
    for place in job.pieces.values_list("place", flat=True):
        yield bytes(job.pieces.values_list("content", flat=True).get(place=place))


def open_file(job: Job) -> IO[bytes]:
    """The same as a file on the disk, to be read from its beginning."""
    file = TemporaryFile()  # noqa: SIM115 - closed by who reads it
    for content in iterate_pieces(job):
        file.write(content)
    file.seek(0)
    return file
