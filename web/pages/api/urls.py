from django.urls import path

from web.pages.api import answers  # noqa: F401 - the answers put themselves behind the door
from web.pages.api import door as doors

door = doors.door
_patterns, _app, _namespace = door.urls
for pattern in _patterns:
    # The door asks for a key of its own, and answers without one in its own words.
    vars(pattern.callback)["login_required"] = False

urlpatterns = [path("", (_patterns, _app, _namespace))]
