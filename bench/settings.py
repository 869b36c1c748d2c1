"""The tests' settings, with the bare view beside the app's addresses."""

from tests.settings import *  # noqa: F403

ROOT_URLCONF = "bench.urls"
