"""A worker that is killed while it takes a file in leaves all or nothing."""

import os
import signal
import subprocess
import sys

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection

from web.domain.crate.models import ImportDraft, Lure

pytestmark = pytest.mark.django_db(transaction=True)
KILLED = """
import os, signal, sys
import django
django.setup()
from django.db import connection
connection.settings_dict["NAME"] = sys.argv[1]
from django.test import Client
from web.common.accounts.models import User
from web.domain.crate.services import entered
entered.record = lambda *_: os.kill(os.getpid(), signal.SIGKILL)  # all lures are written by then
client = Client()
client.force_login(User.objects.get(username="wren"), backend="django.contrib.auth.backends.ModelBackend")
client.post(sys.argv[2] + "accept/", headers={"Host": "localhost"})
"""


def test_a_worker_killed_while_it_accepts_leaves_nothing_half(signed_in, wren):
    rows = "type,color\n" + "popper,bone\nworm,red bug\n" * 300
    signed_in.post("/crate/import/", {"file": SimpleUploadedFile("mine.csv", rows.encode()), "tray": ""})
    draft, before = ImportDraft.objects.get(), Lure.objects.count()
    address = f"/crate/import/{draft.pk}/"
    signed_in.post(address, {"there": "apart"})
    worker = subprocess.run(
        [sys.executable, "-c", KILLED, connection.settings_dict["NAME"], address], check=False, env={**os.environ}
    )
    assert worker.returncode == -signal.SIGKILL
    assert Lure.objects.count() == before
    assert ImportDraft.objects.get().rows.count() == 600
    signed_in.post(f"{address}accept/")
    assert Lure.objects.count() == before + 600
    assert not ImportDraft.objects.exists()
