"""Archives written and read outside the request."""

from tempfile import TemporaryFile

from django.core.exceptions import ValidationError
from django.urls import reverse

from web.common.work.heavy import Outcome, Tell, heavy
from web.common.work.models import Job
from web.common.work.pieces import open_file
from web.common.work.services import keep_file
from web.pages.archive import services
from web.pages.archive.writing import write_archive


@heavy
def write(job: Job, tell: Tell) -> Outcome:
    """An archive, read back before it is handed out."""
    with TemporaryFile() as file:
        tell("Writing the archive", 0, 0)
        write_archive(job.owner, file)
        tell("Reading it back", 0, 0)
        file.seek(0)
        try:
            services.read_back(job.owner, file)
        except ValidationError as error:
            words = " ".join(error.messages)
            raise ValidationError(
                f"The archive could not be read in again, so it is not handed out. {words}"
            ) from error
        file.seek(0)
        keep_file(job, file)
    return Outcome(to=reverse("work-file", args=[job.pk]))


@heavy
def take_in(job: Job, tell: Tell) -> Outcome:
    """An archive, into an account that has nothing yet."""
    with open_file(job) as file:
        count = services.take_in(job.owner, file, tell)
    job.pieces.all().delete()
    return Outcome(to=f"{reverse('archive')}?taken={count}")
