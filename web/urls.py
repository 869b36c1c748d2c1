"""All addresses of the app, by step."""

from django.urls import include, path

from web.common.watching.views import health, metrics
from web.pages.start.front import front
from web.pages.trips.water import manifest, service_worker

handler400 = "web.common.ui.views.bad_request"
handler403 = "web.common.ui.views.forbidden"
handler404 = "web.common.ui.views.not_found"
handler500 = "web.common.ui.views.server_error"

urlpatterns = [
    path("", front, name="home"),
    path("sw.js", service_worker, name="service-worker"),
    path("manifest.webmanifest", manifest, name="manifest"),
    path("health", health, name="health"),
    path("metrics", metrics, name="metrics"),
    path("start/", include("web.pages.start.urls")),
    path("account/archive/", include("web.pages.archive.urls")),
    path("account/programs/", include("web.pages.api.pages")),
    path("account/", include("web.common.accounts.urls")),
    path("waters/", include("web.pages.waters.urls")),
    path("colours/rules/", include("web.pages.rulebooks.urls")),
    path("colours/sight/", include("web.pages.sight.urls")),
    path("colours/", include("web.pages.colours.urls")),
    path("plan/", include("web.pages.plans.urls")),
    path("crate/", include("web.pages.intake.urls")),
    path("crate/", include("web.pages.check.urls")),
    path("crate/", include("web.pages.crate.urls")),
    path("buy/", include("web.pages.shopping.urls")),
    path("work/", include("web.common.work.urls")),
    path("api/", include("web.pages.api.urls")),
    path("shared/", include("web.pages.sharing.urls")),
    path("teach/", include("web.pages.learn.urls")),
    path("day/learned/", include("web.pages.results.urls")),
    path("day/", include("web.pages.trips.urls")),
]
