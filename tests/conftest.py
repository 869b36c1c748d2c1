"""What all tests that touch the web share: the demo angler, and a second one who must see nothing of it."""

import os
from datetime import date, datetime

import pytest
import time_machine
from hypothesis import settings

# Any test is as true on any day: WAX_TEST_DAY=2028-02-29 runs all of them on that one, else it is today, from noon on:
# a trip of today is still going on at the end of the suite.
DAY = os.environ.get("WAX_TEST_DAY") or date.today().isoformat()

settings.register_profile("any machine", deadline=None)  # a slow machine is no wrong answer
settings.load_profile("any machine")

# Playwright's sync API runs an event loop in this thread; Django's ORM would refuse to work beside it.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"


@pytest.fixture(scope="session", autouse=True)
def day_told():
    """The day on which the tests run, from noon on."""
    noon = datetime.fromisoformat(f"{DAY}T12:00:00+00:00")
    with time_machine.travel(noon, tick=True):
        yield noon


@pytest.fixture(scope="session")
def django_db_setup(day_told, django_db_setup, django_db_blocker):
    """The demo data is loaded once; each test's changes to it are rolled back."""
    from web.demo.loader import load_demo

    with django_db_blocker.unblock():
        load_demo()


@pytest.fixture
def wren(db):
    from tests.owner import renewed
    from web.common.accounts.models import User
    from web.demo.loader import load_demo

    # Gone where a test with real transactions came before; renewed, for what an earlier test wrote past the changes.
    return renewed(load_demo() or User.objects.get(username="wren"))


@pytest.fixture
def stranger(db):
    from web.common.accounts.models import User

    return User.objects.create_user("stranger", "stranger@example.org", "who-goes-there")


@pytest.fixture
def signed_in(client, wren):
    client.force_login(wren, backend="django.contrib.auth.backends.ModelBackend")
    return client


@pytest.fixture
def intruder(client, stranger):
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    return client


@pytest.fixture
def forecast(settings):
    """A simulated forecast service, as the demo has one."""
    import threading

    from web.demo.services import ForecastService

    service = ForecastService()
    threading.Thread(target=service.serve_forever, daemon=True).start()
    settings.FORECAST_URL = f"http://127.0.0.1:{service.server_address[1]}/"
    yield service
    service.shutdown()
    service.server_close()
