"""Django's own backend for MariaDB, which tries the next host where one does not answer, or goes while it is asked."""

from typing import Any

from django.db.backends.mysql.base import CursorWrapper
from django.db.backends.mysql.base import DatabaseWrapper as Plain
from MySQLdb import OperationalError

__all__ = ["DatabaseWrapper"]

# Nobody there, cannot be reached, gone while connecting, not ready; and a node that left its cluster.
_ELSEWHERE = (2002, 2003, 2005, 2013, 1040, 1047, 1053)
# Of a node that is asked already: gone, out of its cluster, being stopped, or waiting for the others longer than a
# statement may take.
_GONE = (2006, 2013, 1047, 1053, 1205, 1969)


class _Cursor(CursorWrapper):
    """A read outside a transaction that its node leaves unanswered is asked of the next one, once."""

    def __init__(self, cursor: Any, wrapper: "DatabaseWrapper") -> None:
        super().__init__(cursor)
        self._wrapper = wrapper

    def execute(self, query: str, args: Any = None) -> Any:
        try:
            return super().execute(query, args)
        except OperationalError as error:
            if error.args[0] not in _GONE or not query.startswith("SELECT") or not self._wrapper.may_move():
                raise
            self.cursor = self._wrapper.moved_on()
            return super().execute(query, args)


class DatabaseWrapper(Plain):
    """One connection, to the first of `HOSTS` that takes it."""

    _first = 0  # which of the hosts is tried first: the one after the one that went last

    def get_new_connection(self, conn_params: dict[str, Any]) -> Any:
        hosts = self.settings_dict.get("HOSTS") or [(conn_params["host"], conn_params["port"])]
        hosts = hosts[self._first :] + hosts[: self._first]
        for index, (host, port) in enumerate(hosts, 1):
            try:
                return super().get_new_connection({**conn_params, "host": host, "port": int(port)})
            except OperationalError as error:
                if index == len(hosts) or error.args[0] not in _ELSEWHERE:
                    raise
        raise AssertionError("unreachable: the last host connects or raises")

    def create_cursor(self, name: str | None = None) -> CursorWrapper:
        return _Cursor(self.connection.cursor(), self)

    def may_move(self) -> bool:
        """Whether what is asked can be asked elsewhere: there is another host, and nothing was begun on this one."""
        return len(self.settings_dict.get("HOSTS") or ()) > 1 and not self.in_atomic_block

    def moved_on(self) -> Any:
        """A cursor on the next host."""
        self._first = (self._first + 1) % len(self.settings_dict["HOSTS"])
        self.close()
        self.connect()
        return self.connection.cursor()
