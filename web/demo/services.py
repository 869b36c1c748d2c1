"""Simulated outside devices on loopback, behind the interfaces of real ones: clarity meter, forecast service, gauge.

    python -m web.demo.services --meter-port 8044 --forecast-port 8045 [--meter MODE] [--forecast MODE]

Modes: well, late (answers after ten seconds), wrong (talks nonsense), down (closes every line).
"""

import argparse
import json
import math
import os
import random
import socketserver
import threading
import time
from datetime import date
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from urllib.parse import parse_qs, urlparse

from tackle.base.vocabulary import Stain
from tackle.devices.meter import MeterReading, sentence
from tackle.situations.regions import region_at
from tackle.situations.sky import Climate
from web.demo.gauge import record_table

MODES = ("well", "late", "wrong", "down")
LATE_S = 10
THUNDER_FROM_F = 65


class MeterService(socketserver.ThreadingTCPServer):
    """A clarity meter: three readings a call, and one sentence garbled on the line, as happens."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, port: int = 0, mode: str = "well") -> None:
        super().__init__(("127.0.0.1", port), _MeterLine)
        self.mode = mode


class _MeterLine(socketserver.BaseRequestHandler):
    server: MeterService

    def handle(self) -> None:
        if self.server.mode == "down":
            return
        if self.server.mode == "late":
            time.sleep(LATE_S)
        if self.server.mode == "wrong":
            self.request.sendall(b"\xff\xfe$CMVIS,-4,I,*00\r\n$CMVIS,soup,I,silt*1B\r\nhello\r\n")
            return
        depth = random.uniform(24, 40)
        for _ in range(3):
            said = sentence(MeterReading(depth * random.uniform(0.95, 1.05), Stain.SILT))
            self.request.sendall(said.encode() + b"\r\n")
        self.request.sendall(said.replace(",I,", ",C,").encode() + b"\r\n")


class ForecastService(ThreadingHTTPServer):
    """A forecast: the climate of the place with the day's own weather on top, the same for the same day."""

    daemon_threads = True

    def __init__(self, port: int = 0, mode: str = "well") -> None:
        super().__init__(("127.0.0.1", port), _ForecastPage)
        self.mode = mode


class _ForecastPage(BaseHTTPRequestHandler):
    server: ForecastService

    def do_GET(self) -> None:
        if self.server.mode == "down":
            self.close_connection = True
            return
        if self.server.mode == "late":
            time.sleep(LATE_S)
        if self.server.mode == "wrong":
            body = b'{"hours": [{"hour": 0, "cloud": 40, "wind_mph": "soup"}]}'
        elif urlparse(self.path).path == "/gauge":
            body = record_table(parse_qs(urlparse(self.path).query).get("site", [""])[0], date.today()).encode()
        else:
            query = parse_qs(urlparse(self.path).query)
            day = date.fromisoformat(query["date"][0])
            body = json.dumps({"hours": hours(float(query["latitude"][0]), day)}).encode()
        self.send_response(200 if body else 404)
        self.send_header("Content-Type", "application/json")
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, format: str, *args: object) -> None:
        """Says nothing: the demo's terminal is for the demo."""


def hours(latitude: float, day: date) -> list[dict[str, float]]:
    """The hours of one made-up day."""
    weather = random.Random(f"{latitude:.1f} {day}")
    sky = Climate(latitude).shares(day.month)
    cloud, wind = weather.random(), weather.gauss(7, 4)
    wet = cloud > 1 - sky.overcast / 2
    water = region_at(latitude).temp_f(day.month)
    return [
        {
            "hour": hour,
            "cloud": round(min(max(cloud + weather.gauss(0, 0.12), 0), 1), 2),
            "wind_mph": round(
                steady := max(wind + 4 * math.sin(math.pi * (hour - 8) / 12) + weather.gauss(0, 1), 0), 1
            ),
            "gust_mph": round(steady * (1.8 if wet else 1.4), 1),
            "thunder": 0.2 if wet and water > THUNDER_FROM_F and hour >= 13 else 0,
            "rain_in": round(weather.random() * 0.1, 2) if wet and weather.random() < 0.3 else 0,
            "air_f": round(water - 4 + 9 * math.sin(math.pi * (hour - 9) / 12), 1),
            "water_f": round(water + 1.5 * math.sin(math.pi * (hour - 10) / 12), 1),
        }
        for hour in range(24)
    ]


def main() -> None:
    parser = argparse.ArgumentParser(description="Simulated clarity meter and forecast service.")
    parser.add_argument("--meter-port", type=int, default=8044)
    parser.add_argument("--forecast-port", type=int, default=8045)
    parser.add_argument("--meter", choices=MODES, default="well")
    parser.add_argument("--forecast", choices=MODES, default="well")
    parser.add_argument("--pid-file", type=Path)
    asked = parser.parse_args()
    if asked.pid_file:
        asked.pid_file.write_text(str(os.getpid()))
    threading.Thread(target=MeterService(asked.meter_port, asked.meter).serve_forever, daemon=True).start()
    ForecastService(asked.forecast_port, asked.forecast).serve_forever()


if __name__ == "__main__":
    main()
