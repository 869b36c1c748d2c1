"""A worker that is killed while it takes a file in leaves all or nothing."""

import os
import signal

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connections

from web.crate import changes
from web.crate.models import ImportDraft, Lure

pytestmark = pytest.mark.django_db(transaction=True)


def test_a_worker_killed_while_it_accepts_leaves_nothing_half(signed_in, wren):
    rows = "type,color\n" + "popper,bone\nworm,red bug\n" * 300
    signed_in.post("/crate/import/", {"file": SimpleUploadedFile("mine.csv", rows.encode()), "tray": ""})
    draft, before = ImportDraft.objects.get(), Lure.objects.count()
    address = f"/crate/import/{draft.pk}/"
    signed_in.post(address, {"there": "apart"})
    connections.close_all()  # the child must not speak on the parent's line
    child = os.fork()
    if not child:
        changes.record = lambda *_: os.kill(os.getpid(), signal.SIGKILL)  # all lures are written by then
        signed_in.post(f"{address}accept/")
        os._exit(1)
    assert os.WTERMSIG(os.waitpid(child, 0)[1]) == signal.SIGKILL
    assert Lure.objects.count() == before
    assert ImportDraft.objects.get().rows.count() == 600
    signed_in.post(f"{address}accept/")
    assert Lure.objects.count() == before + 600
    assert not ImportDraft.objects.exists()
