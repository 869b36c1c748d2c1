"""JSON, TOML and CSV from outside, read strictly: bounded in depth and size, nothing in it that cannot be written."""

from __future__ import annotations

import csv
import io
import json
import math
import re
import tomllib
from typing import Any, Final

from tackle.base.errors import InvalidInput

__all__ = ["check_value", "decoder", "is_plain", "plain", "plain_value", "read_csv", "read_json", "read_toml_text"]

MOST_DEPTH: Final = 40
_WIDEST: Final = 2**63 - 1
# A key of so many parts: reading one takes as long as the square of their number.
_DEEP_KEY: Final = re.compile(rb"""(?:(?:[\w-]{1,60}|"[^"\n.]{0,60}"|'[^'\n.]{0,60}')[ \t]*\.[ \t]*){40}""")
_NOT_PLAIN: Final = re.compile(
    "[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ud800-\udfff]"
)  # Unicode's Cc and Cs, but \t \n \r


def read_json(text: str | bytes, field: str = "file", most_depth: int = MOST_DEPTH) -> Any:
    """The value of a JSON text in UTF-8. Raises InvalidInput: no JSON, too deep, or with what nothing can hold."""
    try:
        value = json.loads(
            text.decode("utf-8-sig") if isinstance(text, bytes) else text, parse_constant=_refuse_constant
        )
    except UnicodeDecodeError as error:
        raise InvalidInput(field, "is not text in UTF-8", "JSON in UTF-8") from error
    except (ValueError, RecursionError) as error:
        words = str(error)[:120] if isinstance(error, ValueError) else "it is nested too deep"
        raise InvalidInput(field, f"is not JSON: {words}", "JSON") from error
    check_value(value, field, most_depth)
    return value


def read_toml_text(content: bytes, field: str = "file", most_depth: int = MOST_DEPTH) -> dict[str, Any]:
    """The content of a TOML text in UTF-8. Raises InvalidInput, as `read_json` does."""
    if _DEEP_KEY.search(content):
        raise InvalidInput(field, "is not TOML: it is nested too deep", "TOML")
    try:
        value = tomllib.loads(content.decode("utf-8-sig"))
    except UnicodeDecodeError as error:
        raise InvalidInput(field, "is not text in UTF-8", "TOML in UTF-8") from error
    except tomllib.TOMLDecodeError as error:
        raise InvalidInput(field, f"is not TOML: {str(error)[:160]}", "TOML") from error
    except (RecursionError, ValueError) as error:
        raise InvalidInput(field, "is not TOML: it is nested too deep, or holds a number too long", "TOML") from error
    check_value(value, field, most_depth)
    return value


def read_csv(content: bytes, most_rows: int) -> tuple[list[str], list[dict[str, str]]]:
    """The heading and the rows of a CSV text in UTF-8, by the mark that the heading has most of: , ; or tab.

    Raises InvalidInput: no CSV, or with more rows than `most_rows`.
    """
    try:
        text = content.decode("utf-8-sig")
        first = text.partition("\n")[0]
        data = csv.DictReader(io.StringIO(text, newline=""), strict=True, delimiter=max(",;\t", key=first.count))
        heading = list(data.fieldnames or ())
        rows: list[dict[str, str]] = []
        for row in data:
            if len(rows) == most_rows:
                raise InvalidInput("file", f"has more than {most_rows:,} rows", f"at most {most_rows:,}")
            rows.append({name: row.get(name) or "" for name in heading})
    except UnicodeDecodeError as error:
        raise InvalidInput("file", "is not text in UTF-8", "CSV in UTF-8") from error
    except csv.Error as error:
        raise InvalidInput("file", f"is no CSV: {str(error)[:120]}", "CSV in UTF-8") from error
    return heading, rows


def decoder() -> json.JSONDecoder:
    """What reads JSON as `read_json` does, a value at a time, and checks nothing of what it reads."""
    return json.JSONDecoder(parse_constant=_refuse_constant)


def is_plain(text: str) -> bool:
    """Whether a text has no control characters but tabs and line ends, and no half of a surrogate pair."""
    return _NOT_PLAIN.search(text) is None


def plain(text: str) -> str:
    """A text with what is not plain in it left out."""
    return _NOT_PLAIN.sub("", text)


def plain_value(value: Any) -> Any:
    """A value of plain ones, lists and tables, with what is not plain left out of its texts."""
    if isinstance(value, str):
        return plain(value)
    if isinstance(value, dict):
        return {plain_value(key): plain_value(one) for key, one in value.items()}
    return [plain_value(one) for one in value] if isinstance(value, list) else value


def _refuse_constant(word: str) -> float:
    raise ValueError(f"{word} is not a number")


def check_value(value: Any, field: str, depth: int = MOST_DEPTH) -> None:
    """Raises InvalidInput where a value is nested too deep, or holds a text or a number that nothing can hold."""
    if depth < 0:
        raise InvalidInput(field, "is nested too deep", f"at most {MOST_DEPTH} levels")
    if isinstance(value, str):
        if not is_plain(value):
            raise InvalidInput(field, "holds a character that is no text", "text without control characters")
    elif isinstance(value, bool) or value is None:
        return
    elif isinstance(value, int):
        if abs(value) > _WIDEST:
            raise InvalidInput(field, "holds a number that is too long", "numbers of up to 64 bits")
    elif isinstance(value, float):
        if not math.isfinite(value):
            raise InvalidInput(field, "holds a number that is too large", "finite numbers")
    elif isinstance(value, dict):
        for key, one in value.items():
            check_value(key, field, depth - 1)
            check_value(one, field, depth - 1)
    elif isinstance(value, list):
        for one in value:
            check_value(one, field, depth - 1)
