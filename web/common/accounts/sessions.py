"""Sessions in the database, each with its owner, so that one can see where one is signed in, and end it."""

from typing import Any

from django.contrib.sessions.backends.db import SessionStore as Stored
from django.contrib.sessions.base_session import AbstractBaseSession


class SessionStore(Stored):
    """Django's own, with the owner beside the session's data."""

    @classmethod
    def get_model_class(cls) -> type[AbstractBaseSession]:
        from web.common.accounts.models import Session

        return Session

    def create_model_instance(self, data: dict[str, Any]) -> AbstractBaseSession:
        row = super().create_model_instance(data)
        given = str(data.get("_auth_user_id", ""))
        row.owner_id = int(given) if given.isdecimal() else None  # type: ignore[attr-defined]
        row.browser = str(data.get("browser", ""))[:60]  # type: ignore[attr-defined]
        row.begun_at = str(data.get("begun_at", ""))  # type: ignore[attr-defined]
        return row
