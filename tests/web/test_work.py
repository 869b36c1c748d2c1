"""Heavy work: queued, told how far it is, done by another process, and tried again where it broke."""

import os
import random
import signal
from datetime import timedelta
from time import monotonic

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.utils import timezone
from django_tasks.signals import task_finished
from django_tasks_db.models import DBTaskResult

from tackle.base.store import STORE
from tackle.base.vocabulary import CATEGORIES
from tests.owner import renewed
from tests.pages import text
from web.common.work import heavy, papers
from web.common.work.models import Job
from web.common.work.watch import Watch, _end_where_grown
from web.domain.crate.models import Tray
from web.domain.plans import selectors
from web.domain.plans.models import Plan
from web.pages.intake import importing, tasks

pytestmark = pytest.mark.django_db
ROWS = "category,colour,count\n" + "worm,black,1\n" * 40


@pytest.fixture
def queued(settings, monkeypatch):
    """A queue that nobody takes from but the worker of this test; nobody waits long."""
    settings.TASKS = {**settings.TASKS, "default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}
    monkeypatch.setattr(heavy, "WAIT_S", 0.0)
    monkeypatch.setattr(importing, "QUICK_BYTES", 0)
    # A test's one transaction stands open; the worker would take its connection for a left-over.
    monkeypatch.setattr("django_tasks_db.management.commands.db_worker.close_old_connections", lambda: None)
    return lambda: call_command("db_worker", batch=True, startup_delay=False, reload=False, verbosity=0, interval=0)


def sent(client):
    file = SimpleUploadedFile("box.csv", ROWS.encode(), content_type="text/csv")
    return client.post("/crate/import/", {"file": file})


def test_a_large_file_is_read_by_the_worker(signed_in, queued, django_user_model, client):
    page = text(sent(signed_in))
    job = Job.objects.get()
    assert "box.csv" in page
    assert f"/work/{job.pk}/" in page
    assert "waits in line" in text(signed_in.get(f"/work/{job.pk}/", headers={"HX-Request": "true"}))
    queued()
    done = signed_in.get(f"/work/{job.pk}/", headers={"HX-Request": "true"})
    assert done.headers["HX-Redirect"].startswith("/crate/import/")
    assert signed_in.get(f"/work/{job.pk}/", follow=True).status_code == 200
    assert not Job.objects.get().content
    client.force_login(
        django_user_model.objects.create_user("heron", "heron@example.org"),
        backend="django.contrib.auth.backends.ModelBackend",
    )
    assert client.get(f"/work/{job.pk}/").status_code == 404
    assert client.post(f"/work/{job.pk}/again/").status_code == 404


def test_a_refused_file_says_why_and_a_broken_one_is_tried_again(signed_in, queued, monkeypatch):
    with monkeypatch.context() as broken:
        broken.setattr(tasks, "read_sheets", lambda *_: 1 / 0)
        sent(signed_in)
        queued()
    job = Job.objects.get()
    assert "our fault" in text(signed_in.get(f"/work/{job.pk}/"))
    signed_in.post(f"/work/{job.pk}/again/")
    queued()
    assert signed_in.get(f"/work/{job.pk}/").status_code == 302
    signed_in.post("/crate/import/", {"file": SimpleUploadedFile("box.csv", b"nothing\n", content_type="text/csv")})
    queued()
    page = text(signed_in.get(f"/work/{Job.objects.first().pk}/"))
    assert "The file" in page
    assert "Try it again" not in page


def test_work_that_was_cut_off_says_so(signed_in, queued):
    sent(signed_in)
    job = Job.objects.get()
    long_ago = timezone.now() - timedelta(minutes=5)
    Job.objects.update(told_at=timezone.now(), doing="Reading the rows")  # at work: it is not begun twice
    signed_in.post(f"/work/{job.pk}/again/")
    assert DBTaskResult.objects.count() == 1
    Job.objects.update(told_at=long_ago)
    assert "cut off" in text(signed_in.get(f"/work/{job.pk}/"))


def test_a_printed_page_is_set_by_the_queue_and_kept_by_what_stands_on_it(signed_in, queued, wren, monkeypatch):
    made = []
    monkeypatch.setattr(papers, "render_pdf", lambda page: made.append(page) or b"%PDF of it")
    page = signed_in.get("/crate/labels.pdf")
    job = Job.objects.get(kind="paper")
    assert f"/work/{job.pk}/" in text(page)
    assert signed_in.get("/crate/labels.pdf").status_code == 200  # asked again meanwhile: the same piece of work
    queued()
    assert (
        signed_in.get(f"/work/{job.pk}/", headers={"HX-Request": "true"}).headers["HX-Redirect"] == "/crate/labels.pdf"
    )
    for _ in range(2):
        assert signed_in.get("/crate/labels.pdf").content == b"%PDF of it"
    assert len(made) == 1
    Tray.objects.filter(owner=wren).update(name="Another")
    renewed(wren)
    signed_in.get("/crate/labels.pdf")
    queued()
    assert signed_in.get("/crate/labels.pdf").content == b"%PDF of it"
    assert len(made) == 2
    assert "Another" in made[1]


def test_each_account_has_a_budget_of_printed_pages(signed_in, client, wren, monkeypatch):
    monkeypatch.setattr(papers, "render_pdf", lambda page: b"%PDF")
    trays = list(Tray.objects.filter(owner=wren))
    for number in range(papers.AN_HOUR.times):
        Tray.objects.filter(pk=trays[0].pk).update(name=f"Tray {number}")
        assert signed_in.get(f"/crate/labels.pdf?tray={trays[0].pk}").content == b"%PDF"
    Tray.objects.filter(pk=trays[0].pk).update(name="One more")
    waits = signed_in.get(f"/crate/labels.pdf?tray={trays[0].pk}")
    assert waits.status_code == 429
    assert 3000 < int(waits.headers["Retry-After"]) <= 3600
    assert "pages an hour" in text(waits)


def test_nobody_fills_the_queue(signed_in, queued):
    for _ in range(8):
        sent(signed_in)
    assert "already" in text(sent(signed_in))
    assert Job.objects.count() == 8


def test_all_categories_are_planned_outside_the_request(signed_in, wren, queued):
    signed_in.post("/plan/settings/", {"what": "category", "value": "worm", "to": "in"})
    Plan.objects.update(categories=list(CATEGORIES))
    renewed(wren)
    assert "takes a moment" in text(signed_in.get("/plan/"))
    assert "takes a moment" in text(signed_in.get("/buy/"))
    assert Job.objects.count() == 1
    long_ago = timezone.now() - timedelta(minutes=5)
    Job.objects.update(told_at=long_ago)
    assert "takes a moment" not in text(signed_in.get("/plan/"))  # nobody is at work: the page plans itself
    STORE.clear()
    queued()
    basis = selectors.get_basis(wren)
    assert not selectors.unknown(basis)
    there = {one.category: one.answer for one in selectors.answers(basis)}
    STORE.clear()
    category = random.choice(list(there))
    assert selectors.answer(selectors.get_basis(wren), category).answer == there[category]


def test_health_tells_of_a_queue_that_stands_still(client, signed_in, queued):
    sent(signed_in)
    assert client.get("/health").json()["queue"] == "well"
    DBTaskResult.objects.update(enqueued_at=timezone.now() - timedelta(minutes=5))
    assert "1 in line" in client.get("/health").json()["queue"]


LONG_AGO = timedelta(minutes=5)


def silent(**told):
    Job.objects.filter(ended=False).update(told_at=timezone.now() - LONG_AGO, **told)


def test_what_was_cut_off_ends_by_itself_and_counts_no_longer(signed_in, queued):
    for _ in range(8):
        sent(signed_in)
    DBTaskResult.objects.all().delete()  # their process was killed as it took them, before their first word
    silent()
    assert "already" not in text(sent(signed_in))
    assert Job.objects.filter(ended=True, wrong__contains="cut off").count() == 8
    job = Job.objects.filter(ended=True).first()
    assert "Try it again" in text(signed_in.get(f"/work/{job.pk}/"))
    signed_in.post(f"/work/{job.pk}/again/")
    queued()
    assert signed_in.get(f"/work/{job.pk}/").status_code == 302


def test_what_waits_in_a_long_line_is_not_cut_off(signed_in, queued):
    sent(signed_in)
    silent()
    assert "nothing is at work on it" in text(signed_in.get(f"/work/{Job.objects.get().pk}/"))
    assert not Job.objects.get().ended


def test_the_first_piece_of_each_goes_before_the_second_of_anybody(signed_in, client, stranger, queued):
    for _ in range(3):
        sent(signed_in)
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    sent(client)
    order = [told["args"][0] for told in DBTaskResult.objects.ready().values_list("args_kwargs", flat=True)]
    owners = [Job.objects.get(pk=pk).owner.username for pk in order]
    assert owners == ["wren", "stranger", "wren", "wren"]


def test_two_pieces_of_one_owner_are_not_at_work_at_once(signed_in, queued, monkeypatch):
    for _ in range(2):
        sent(signed_in)
    first, second = Job.objects.order_by("pk")
    Job.objects.filter(pk=first.pk).update(doing="Reading the rows")
    DBTaskResult.objects.filter(args_kwargs__args=[first.pk]).delete()
    monkeypatch.setattr(heavy.WATCH, "on", True)
    queued()
    assert not Job.objects.get(pk=second.pk).ended
    assert DBTaskResult.objects.filter(status="READY", args_kwargs__args=[second.pk]).exists()
    Job.objects.filter(pk=first.pk).update(ended=True)
    DBTaskResult.objects.filter(status="READY").update(run_after=timezone.now())
    queued()
    assert Job.objects.get(pk=second.pk).to


def test_a_process_knows_which_piece_is_silent():
    watch = Watch()
    assert watch.silent(1e9) is None
    watch.heard(7)
    assert watch.silent(monotonic() + 1) is None
    assert watch.silent(monotonic() + 100) == 7
    watch.heard(None)
    assert watch.silent(monotonic() + 100) is None


@pytest.mark.parametrize("most", [1, 100_000])
def test_a_process_that_has_grown_ends_between_two_pieces(signed_in, queued, monkeypatch, most):
    told = []
    monkeypatch.setattr("web.common.work.watch.MOST_MB", most)
    monkeypatch.setattr("web.common.work.watch.os.kill", lambda *about: told.append(about))
    task_finished.connect(_end_where_grown, dispatch_uid="grown")
    try:
        sent(signed_in)
        queued()
    finally:
        task_finished.disconnect(dispatch_uid="grown")
    assert ((os.getpid(), signal.SIGTERM) in told) == (most == 1)
