"""The process that does the heavy work: it takes from the queue until it is told to end."""

from datetime import timedelta
from time import sleep
from typing import Any, Final

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser
from django.db import OperationalError, connection

from web.common.work.watch import WATCH

INTERVAL_S: Final = 0.1
KEPT_FOR: Final = timedelta(days=7)
LATER_S: Final = 2.0


class Command(BaseCommand):
    help = "Does the heavy work that requests put into the queue."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--pid-file", help="who starts it knows it by this name in its command line")

    def handle(self, *args: Any, **options: Any) -> None:
        WATCH.begin()
        while True:
            try:
                call_command("prune_db_task_results", queue_name="*", min_age_days=KEPT_FOR.days, verbosity=0)
                call_command("db_worker", interval=INTERVAL_S, startup_delay=False, reload=False, verbosity=0)
                return  # told to end, or grown past its bound: ./wax begins it anew
            except OperationalError:  # the database has ended, and is being started again
                connection.close()
                sleep(LATER_S)
