"""Settings for tests: the real ones, with quick passwords and unhashed static names."""

from web.settings import *  # noqa: F403
from web.settings import STORAGES, TASKS

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
STORAGES = {**STORAGES, "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}}
TASKS = {**TASKS, "default": TASKS["at-once"]}
EMAIL_BACKEND = "django.core.mail.backends.locmem.EmailBackend"
