"""Whether all of it is well, and its counts: for programs that watch, not for anglers."""

import os
import shutil
from datetime import timedelta
from typing import Final

from django.conf import settings
from django.contrib.auth.decorators import login_not_required
from django.db import DatabaseError, connection
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.utils import timezone
from django_tasks_db.models import DBTaskResult
from prometheus_client import CONTENT_TYPE_LATEST, REGISTRY, CollectorRegistry, generate_latest, multiprocess

from web.common.database.tables import migrations_ahead

LEAST_FREE_MB: Final = 200
LONG_IN_LINE: Final = timedelta(minutes=1)


@login_not_required
def health(request: HttpRequest) -> JsonResponse:
    """200 where everything answers, else 503: this process, the database, its tables, queue and disk."""
    data: dict[str, str] = {"process": "well"}
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
        data["database"] = "well"
        behind = migrations_ahead()
        data["tables"] = f"{len(behind)} changes behind" if behind else "well"
        waiting = DBTaskResult.objects.ready().filter(enqueued_at__lt=timezone.now() - LONG_IN_LINE).count()
        data["queue"] = f"{waiting} in line, and nothing at work on them" if waiting else "well"
    except DatabaseError:
        data["database"] = "does not answer"
    free = shutil.disk_usage(settings.ROOT).free // 1_000_000
    data["disk"] = f"{free} MB free, where {LEAST_FREE_MB} are needed" if free < LEAST_FREE_MB else "well"
    well = set(data.values()) == {"well"}
    return JsonResponse({"well": well, **data, "run": settings.RUN}, status=200 if well else 503)


@login_not_required
def metrics(request: HttpRequest) -> HttpResponse:
    """Counts and timings as text for Prometheus; to this machine alone, unless the settings say otherwise."""
    from_here = request.META.get("REMOTE_ADDR") in ("127.0.0.1", "::1") and "wax.forwarded" not in request.META
    if not from_here and not settings.METRICS_OPEN:
        raise Http404
    registry = REGISTRY
    if os.environ.get("PROMETHEUS_MULTIPROC_DIR"):
        registry = CollectorRegistry()
        multiprocess.MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    return HttpResponse(generate_latest(registry), content_type=CONTENT_TYPE_LATEST)
