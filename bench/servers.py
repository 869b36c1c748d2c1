"""Database servers and apps of a bench's own, on loopback: started, filled with the demo, asked, killed."""

import json
import os
import re
import secrets
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

ROOT = Path(__file__).parent.parent
KEYS = 16
PASSWORD = secrets.token_hex(12)
WORDS = (
    "--bind-address=127.0.0.1", "--skip-name-resolve", "--character-set-server=utf8mb4", "--performance-schema=OFF",
    "--transaction-isolation=READ-COMMITTED", "--default-time-zone=+00:00",
)  # fmt: skip


class Server:
    """One database server: its folder, port, and process."""

    def __init__(self, folder: Path, port: int) -> None:
        self.folder, self.port = folder, port
        self.process: subprocess.Popen[bytes] | None = None

    def make(self) -> None:
        self.folder.mkdir()
        _own(self.folder)
        subprocess.run(
            ["mariadb-install-db", "--no-defaults", "--rpm", *_user(), f"--datadir={self.folder}",
             "--auth-root-authentication-method=normal", "--skip-test-db", "--skip-name-resolve"],
            check=True, capture_output=True,
        )  # fmt: skip
        _own(self.folder)

    def start(self, *words: str, ready: tuple[str, str] = ("SELECT 'up'", "up")) -> None:
        """Returns once it gives the answer that says it is ready."""
        self.process = subprocess.Popen(
            ["mariadbd", "--no-defaults", *_user(), f"--datadir={self.folder}", f"--socket={self.folder}/s",
             f"--port={self.port}", *WORDS, *words],
            stdout=subprocess.DEVNULL, stderr=(self.folder / "log").open("ab"), start_new_session=True,
        )  # fmt: skip
        until = time.monotonic() + 90
        while self.ask(ready[0]) != ready[1]:
            if time.monotonic() > until or self.process.poll() is not None:
                raise SystemExit(f"{self.folder.name} does not start:\n" + "\n".join(self._last_words()))
            time.sleep(0.1)

    def _last_words(self) -> list[str]:
        """What it said since it was last started, but for what a crash says of the machine."""
        said = (self.folder / "log").read_text(errors="replace").rpartition("starting as process")[2]
        return [line for line in said.splitlines() if re.search(r"ERROR|Note|Assert|InnoDB|signal", line)][-40:]

    def ask(self, sql: str) -> str:
        """The last word of an answer; empty where there is none."""
        told = subprocess.run(
            ["mariadb", "--no-defaults", f"--socket={self.folder}/s", "-u", "root", "-N", "-e", sql],
            capture_output=True, text=True, check=False,
        )  # fmt: skip
        return told.stdout.split()[-1] if told.stdout.split() else ""

    def open_to_app(self) -> None:
        self.ask(f"CREATE DATABASE wax CHARACTER SET utf8mb4; CREATE USER wax@'%' IDENTIFIED BY '{PASSWORD}'; "
                 "GRANT ALL ON wax.* TO wax@'%'")  # fmt: skip

    def kill(self) -> None:
        assert self.process is not None
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()

    @property
    def running(self) -> bool:
        return self.process is not None and self.process.poll() is None


def _user() -> list[str]:
    return ["--user=mysql"] if os.getuid() == 0 else []


def _own(folder: Path) -> None:
    if os.getuid() == 0:
        subprocess.run(["useradd", "--system", "--no-create-home", "mysql"], check=False, capture_output=True)
        subprocess.run(["chown", "-R", "mysql:", str(folder)], check=True)


def environment(servers: list[Server], query: str = "") -> dict[str, str]:
    """What an app needs to find its database."""
    hosts = ",".join(f"127.0.0.1:{server.port}" for server in servers)
    url = f"mysql://wax:{PASSWORD}@{hosts}/wax{query}"
    told = {**os.environ, "WAX_DATABASE_URL": url, "DJANGO_SETTINGS_MODULE": "tests.settings", "WAX_DEMO": "1"}
    told.pop("PROMETHEUS_MULTIPROC_DIR", None)
    return told


FILL = f"""
KEYS = {KEYS}
import django; django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0)
from web.pages.api.services import make_token
from web.pages.api.tokens import MAY
from web.demo.loader import load_demo
wren = load_demo()
print(*(make_token(wren, "bench", list(MAY))[1] for n in range(KEYS)), wren.waters.first().pk)
"""


def filled(told: dict[str, str]) -> list[str]:
    """The demo's data in an empty database; keys for programs, then the number of a water."""
    fill = [sys.executable, "-c", FILL]
    return subprocess.run(fill, env=told, check=True, capture_output=True, text=True, cwd=ROOT).stdout.split()


def app_on(told: dict[str, str], port: int, workers: int = 1, parts: str = "") -> "subprocess.Popen[bytes]":
    """An app that answers. `parts`: the folder that its workers share."""
    app = subprocess.Popen(
        [sys.executable, "-m", "web.common.serving.server", "--bind", f"127.0.0.1:{port}", "--threads", "4",
         "--workers",
         str(workers)],
        env={**told, "WAX_PARTS": parts}, cwd=ROOT, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
    )  # fmt: skip
    until = time.monotonic() + 60
    while ask(port, "/health", "")[0] != 200:
        assert time.monotonic() < until, "an app does not start"
        time.sleep(0.3)
    return app


def ask(port: int, address: str, key: str, body: object = None) -> tuple[int, str]:
    """The status of an answer, 0 where there is none, and its words."""
    asked = urllib.request.Request(
        f"http://127.0.0.1:{port}{address}", data=None if body is None else json.dumps(body).encode(),
        headers={"Authorization": f"Bearer {key}", "Content-Type": "application/json"},
    )  # fmt: skip
    try:
        with urllib.request.urlopen(asked, timeout=20) as answer:  # noqa: S310 - always loopback
            return answer.status, answer.read().decode()
    except urllib.error.HTTPError as error:
        return error.code, error.read().decode()
    except OSError as error:
        return 0, str(error)
