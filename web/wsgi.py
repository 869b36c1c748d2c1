"""What the server serves."""

import gc
import os

from django.core.wsgi import get_wsgi_application
from django.urls import get_resolver

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.settings")
application = get_wsgi_application()
get_resolver().url_patterns  # noqa: B018 - loads all views now, once for all workers, and not with the first request

# What is loaded stays: the collector need not look through it again, nor through what pages keep at each few objects.
gc.freeze()
gc.set_threshold(10_000, 20, 20)
