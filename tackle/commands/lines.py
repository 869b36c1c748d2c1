"""Requests as JSON lines, answered one by one: a line that is refused does not stop those after it."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Mapping
from typing import Any, TextIO

from tackle.base.errors import InvalidInput
from tackle.base.strict import read_json

__all__ = ["Command", "answer_line", "answer_lines"]

Command = Callable[[Mapping[str, Any]], dict[str, Any]]


def answer_lines(command: Command, lines: Iterable[str], out: TextIO) -> int:
    """Writes an answer for each line; returns 0 where all were answered, 1 where some were refused."""
    refused = False
    for line in lines:
        if line.strip():
            answer = answer_line(command, line)
            refused |= "error" in answer
            print(json.dumps(answer, ensure_ascii=False), file=out, flush=True)
    return 1 if refused else 0


def answer_line(command: Command, line: str) -> dict[str, Any]:
    """The answer to one line, or its error."""
    try:
        request = read_json(line, "line")
    except InvalidInput as refused:
        return {"id": None, "error": str(refused)}
    if not isinstance(request, Mapping):
        return {"id": None, "error": "line: is not an object; allowed: one JSON object a line"}
    try:
        return {"id": request.get("id"), **command(request)}
    except InvalidInput as refused:
        return {"id": request.get("id"), "error": str(refused)}
