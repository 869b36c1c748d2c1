"""Starting again: from `./wax demo` to its words, in times of importing Django and numpy."""

import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from bench.measure import best_of
from bench.servers import ROOT

MOST = 18
PORT = 8790


def run() -> bool:
    with tempfile.TemporaryDirectory(prefix="wax-starts-", dir="/var/tmp") as place:
        folder = Path(place) / "a clone"
        subprocess.run(["git", "clone", "-q", ROOT, folder], check=True)
        told = {**os.environ, "WAX_ENVIRONMENT": sys.prefix, "WAX_PORT": str(PORT)}
        for name in ("WAX_DB_PORT", "WAX_DB_PASSWORD", "WAX_SECRET_KEY", "DJANGO_SETTINGS_MODULE"):
            told.pop(name, None)
        _started(folder, told)
        again = min(_started(folder, told) for _ in range(5))
    imports = best_of(5, lambda: subprocess.run([sys.executable, "-c", "import django, numpy"], check=True))
    good = again <= MOST * imports
    times = again / imports
    print(f"{'ok  ' if good else 'SLOW'} started again in {again:.2f} s: {times:.1f} times importing Django and numpy"
          f" ({imports:.2f} s); at most {MOST}")  # fmt: skip
    return good


def _started(folder: Path, told: dict[str, str]) -> float:
    begun = time.perf_counter()
    demo = subprocess.Popen(["./wax", "demo"], cwd=folder, env=told, stdout=subprocess.PIPE, text=True)
    try:
        for line in demo.stdout:
            if "Wax Crate is on" in line:
                return time.perf_counter() - begun
        raise RuntimeError("the demo did not start")
    finally:
        demo.terminate()
        demo.wait(90)
