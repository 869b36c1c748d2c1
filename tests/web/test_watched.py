"""What programs that watch are told."""

import logging
from types import SimpleNamespace

import pytest
from django.db import DatabaseError, connection

from tests.owner import renewed
from tests.pages import text
from web.common.watching import queries, views

pytestmark = pytest.mark.django_db


def test_it_is_well(client):
    told = client.get("/health")
    assert (told.status_code, told.json()) == (
        200,
        {"well": True, "process": "well", "database": "well", "tables": "well", "queue": "well", "disk": "well",
         "run": ""},
    )  # fmt: skip


def test_a_database_that_does_not_answer_is_told(client, monkeypatch):
    class Gone:
        def cursor(self):
            raise DatabaseError("gone")

    monkeypatch.setattr(views, "connection", Gone())
    told = client.get("/health")
    assert (told.status_code, told.json()["database"]) == (503, "does not answer")


def count(page, what):
    line = f'wax_work_seconds_count{{what="{what}"}} '
    return next((float(one.removeprefix(line)) for one in page.splitlines() if one.startswith(line)), 0.0)


def test_plans_and_requests_are_counted(signed_in, client, wren):
    before = text(client.get("/metrics"))
    lures = wren.trays.first().lures
    lures.update(category="creature", card="junebug")
    wren.plans.get().choices.update_or_create(category="worm", defaults={"ban": ["black-plain", "junebug", "red-bug"]})
    renewed(wren)
    signed_in.get("/plan/?category=worm")
    after = text(client.get("/metrics"))
    assert count(after, "plan") > count(before, "plan")
    assert 'wax_request_seconds_count{part="plan",status="2xx"}' in after


def test_another_machine_sees_no_counts(client):
    assert client.get("/metrics", REMOTE_ADDR="10.0.0.9").status_code == 404


def test_a_slow_query_is_told_without_what_was_asked(caplog, monkeypatch, wren):
    monkeypatch.setattr(queries, "SLOW_S", -1.0)
    logging.getLogger("web").propagate = True
    with caplog.at_level(logging.WARNING), connection.execute_wrapper(queries.tell_slow):
        list(type(wren).objects.filter(username="somebody-s-name"))
    assert "event=slow-query what=select tables=accounts_user" in caplog.text
    assert "somebody" not in caplog.text


def test_health_tells_of_a_disk_that_is_nearly_full(client, db, monkeypatch):
    assert client.get("/health").json()["disk"] == "well"
    monkeypatch.setattr("web.common.watching.views.shutil.disk_usage", lambda _: SimpleNamespace(free=199_000_000))
    told = client.get("/health")
    assert (told.status_code, told.json()["disk"]) == (503, "199 MB free, where 200 are needed")
