"""A clarity meter on a line: NMEA-style sentences over TCP.

    $CMVIS,30.5,I,silt*5A

after `$`: the talker and sentence (CMVIS, visibility), the reading, its unit (I inches, C centimetres), what stains the
water (an id of the vocabulary, or empty); after `*`: the exclusive or of all characters between, as two hex digits
(the checksum of NMEA 0183).
"""

from __future__ import annotations

import socket
from dataclasses import dataclass
from functools import reduce
from operator import xor

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_number
from tackle.base.units import CM_PER_IN
from tackle.base.vocabulary import Stain, ids
from tackle.devices.line import Deadline, heard
from tackle.situations.clarity import MAX_VISIBILITY_IN

__all__ = ["MeterSaid", "MeterReading", "checksum", "parse_sentence", "read_meter", "sentence"]

_MOST_BYTES = 65_536
_MOST_READINGS = 60


@dataclass(frozen=True, slots=True)
class MeterReading:
    """One reading: a visibility in inches, and what stains the water, where the meter tells."""

    visibility_in: float
    stain: Stain | None


@dataclass(frozen=True, slots=True)
class MeterSaid:
    """What a meter said: the good readings, and how many sentences were refused, with the first reason."""

    readings: tuple[MeterReading, ...]
    refused: int
    first_reason: str


def checksum(body: str) -> str:
    """The two hex digits for the characters between $ and *."""
    return f"{reduce(xor, body.encode('ascii', 'replace'), 0):02X}"


def sentence(reading: MeterReading) -> str:
    """The sentence a meter sends for a reading."""
    body = f"CMVIS,{reading.visibility_in:.1f},I,{reading.stain or ''}"
    return f"${body}*{checksum(body)}"


def parse_sentence(line: str) -> MeterReading:
    """The reading in a sentence. Raises InvalidInput: no sentence, a wrong checksum, or a value no water has."""
    line = line.strip()
    if not line.startswith("$") or line[-3:-2] != "*":
        raise InvalidInput("meter", f"{line[:40]!r} is not a sentence", "$CMVIS,30.5,I,silt*hh")
    body, data = line[1:-3], line[-2:].upper()
    if data != checksum(body):
        raise InvalidInput("meter", f"checksum {data} does not fit", checksum(body))
    parts = body.split(",")
    if len(parts) != 4 or parts[0] != "CMVIS":
        raise InvalidInput("meter", f"{body[:40]!r} is not a visibility", "CMVIS with reading, unit and stain")
    value = read_number(parts[1], 0, 1e6)
    if value is None:
        raise InvalidInput("meter", f"{parts[1][:20]!r} is not a number", "a number above 0")
    if parts[2] not in ("I", "C"):
        raise InvalidInput("meter", f"unit {parts[2]!r} is not known", ("I", "C"))
    inches = value if parts[2] == "I" else value / CM_PER_IN
    if not 0 < inches <= MAX_VISIBILITY_IN:
        raise InvalidInput("meter", f"{value:g} is no water's visibility", f"above 0, to {MAX_VISIBILITY_IN:g} in")
    if parts[3] and parts[3] not in ids(Stain):
        raise InvalidInput("meter", f"stain {parts[3]!r} is not known", ids(Stain))
    return MeterReading(inches, Stain(parts[3]) if parts[3] else None)


def read_meter(host: str, port: int, timeout_s: float = 2.0) -> MeterSaid:
    """What a meter says until it closes the line, for `timeout_s` seconds in all. Raises OSError where none answers."""
    deadline = Deadline(timeout_s)
    with socket.create_connection((host, port), timeout=timeout_s) as line:
        text = heard(line, deadline, _MOST_BYTES)
    readings: list[MeterReading] = []
    reasons: list[str] = []
    for said in text.decode("ascii", "replace").splitlines():
        if said.strip() and len(readings) < _MOST_READINGS:
            try:
                readings.append(parse_sentence(said))
            except InvalidInput as refused:
                reasons.append(refused.wrong)
    return MeterSaid(tuple(readings), len(reasons), reasons[0] if reasons else "")
