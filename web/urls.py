"""All addresses of the app, by step."""

from django.urls import include, path

from web.day.water import manifest, service_worker
from web.start.front import front
from web.watched.views import health, metrics

handler400 = "web.ui.views.bad_request"
handler403 = "web.ui.views.forbidden"
handler404 = "web.ui.views.not_found"
handler500 = "web.ui.views.server_error"

urlpatterns = [
    path("", front, name="home"),
    path("sw.js", service_worker, name="service-worker"),
    path("manifest.webmanifest", manifest, name="manifest"),
    path("health", health, name="health"),
    path("metrics", metrics, name="metrics"),
    path("start/", include("web.start.urls")),
    path("account/archive/", include("web.archive.urls")),
    path("account/programs/", include("web.api.pages")),
    path("account/", include("web.accounts.urls")),
    path("waters/", include("web.waters.urls")),
    path("colours/rules/", include("web.schools_pages.urls")),
    path("colours/sight/", include("web.sight.urls")),
    path("colours/", include("web.colours_pages.urls")),
    path("plan/", include("web.plans.urls")),
    path("crate/", include("web.intake.urls")),
    path("crate/", include("web.check.urls")),
    path("crate/", include("web.crate_pages.urls")),
    path("buy/", include("web.buy_pages.urls")),
    path("work/", include("web.work.urls")),
    path("api/", include("web.api.urls")),
    path("shared/", include("web.sharing.urls")),
    path("teach/", include("web.teach.urls")),
    path("day/learned/", include("web.learned.urls")),
    path("day/", include("web.day.urls")),
]
