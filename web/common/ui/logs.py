"""One line of key=value for everything worth knowing afterwards, with the number of the request; nobody's data."""

import logging
import re
from contextvars import ContextVar
from typing import Any

request_number: ContextVar[str] = ContextVar("request_number", default="-")
_PLAIN = re.compile(r"[\w.:/+-]{1,80}")


def event(name: str, **values: Any) -> str:
    """The text of a line: what happened, and its circumstances."""
    return " ".join([f"event={name}", *(f"{key}={_quoted(value)}" for key, value in values.items())])


def _quoted(value: Any) -> str:
    text = str(value)[:80]
    return text if _PLAIN.fullmatch(text) else '"' + re.sub(r'[^ -~]|["\\]', "?", text) + '"'


class KeyValue(logging.Formatter):
    """at=... level=... from=... request=... and the event; a traceback follows on lines of its own."""

    def format(self, record: logging.LogRecord) -> str:
        said = record.getMessage()
        if not said.startswith("event="):
            said = f"said={_quoted(said)}"
        at = self.formatTime(record, "%Y-%m-%dT%H:%M:%S")
        line = f"at={at} level={record.levelname.lower()} from={record.name} request={request_number.get()} {said}"
        return f"{line}\n{self.formatException(record.exc_info)}" if record.exc_info else line
