"""What all tests that touch the web share: the demo angler, and a second one who must see nothing of it."""

import os

import pytest

# Playwright's sync API runs an event loop in this thread; Django's ORM would refuse to work beside it.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"


@pytest.fixture
def wren(db):
    from web.demo.loader import load_demo

    return load_demo()


@pytest.fixture
def stranger(db):
    from web.accounts.models import User

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
