"""Django's management commands: python -m web COMMAND."""

import os
import sys

from django.core.management import execute_from_command_line

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.settings")
os.environ.setdefault("WAX_PATIENT", "1")  # no page waits for these
execute_from_command_line(["wax manage", *sys.argv[1:]])
