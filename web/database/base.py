"""Django's own backend for MariaDB, which tries the next host where one does not answer."""

from typing import Any

from django.db.backends.mysql.base import DatabaseWrapper as Plain
from MySQLdb import OperationalError

__all__ = ["DatabaseWrapper"]

# Nobody there, cannot be reached, gone while connecting, not ready; and a node that left its cluster.
_ELSEWHERE = (2002, 2003, 2005, 2013, 1040, 1047, 1053)


class DatabaseWrapper(Plain):
    """One connection, to the first of `HOSTS` that takes it."""

    def get_new_connection(self, conn_params: dict[str, Any]) -> Any:
        hosts = self.settings_dict.get("HOSTS") or [(conn_params["host"], conn_params["port"])]
        for place, (host, port) in enumerate(hosts, 1):
            try:
                return super().get_new_connection({**conn_params, "host": host, "port": int(port)})
            except OperationalError as error:
                if place == len(hosts) or error.args[0] not in _ELSEWHERE:
                    raise
        raise AssertionError("unreachable: the last host connects or raises")
