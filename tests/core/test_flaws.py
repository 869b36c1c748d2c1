"""What ships against advisories in a file: as the command says it."""

import json
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent.parent
NUMPY = next(
    line.split("==")[1].split()[0]
    for line in (ROOT / "requirements" / "run.txt").read_text().splitlines()
    if line.startswith("numpy==")
)


def advisory(name, *events, ecosystem="PyPI", **more):
    spans = [{"type": "ECOSYSTEM", "events": list(events)}]
    affected = [{"package": {"ecosystem": ecosystem, "name": name}, "ranges": spans}]
    return {
        "id": f"X-{name}",
        "summary": "It breaks.",
        "modified": "2026-10-01T00:00:00Z",
        "affected": affected,
        **more,
    }


def asked(path):
    told = subprocess.run(
        [sys.executable, "ops/flaws.py", str(path)], cwd=ROOT, capture_output=True, text=True, check=False
    )
    return told.returncode, told.stdout + told.stderr


@pytest.mark.parametrize(
    ("given", "falls"),
    [
        (advisory("NumPy", {"introduced": "0"}), True),
        (advisory("numpy", {"introduced": "0"}, {"fixed": "999"}), True),
        (advisory("numpy", {"introduced": "0"}, {"fixed": NUMPY}), False),
        (advisory("numpy", {"introduced": "0"}, {"last_affected": NUMPY}), True),
        (advisory("numpy", {"introduced": "0"}, {"last_affected": "0.1"}), False),
        (advisory("numpy", {"introduced": "999"}), False),
        (advisory("numpy", {"introduced": "0"}, withdrawn="2026-10-02T00:00:00Z"), False),
        (advisory("numpy", {"introduced": "0"}, ecosystem="npm"), False),
        (advisory("htmx.org", {"introduced": "1.0.0"}, ecosystem="npm"), True),
        (advisory("something-else", {"introduced": "0"}), False),
    ],
)
def test_what_ships_falls_under_an_advisory_or_not(tmp_path, given, falls):
    (tmp_path / "one.json").write_text(json.dumps([given]))
    with zipfile.ZipFile(tmp_path / "all.zip", "w") as packed:
        packed.writestr("X.json", json.dumps(given))
    for name in ("one.json", "all.zip"):
        code, words = asked(tmp_path / name)
        assert code == int(falls)
        assert ("It breaks." in words) == falls
        assert "against 1 advisories (the newest of 2026-10-01)" in words


@pytest.mark.parametrize("content", ["", "{", "[1]", '{"name": "x"}'])
def test_what_is_no_list_of_advisories_is_refused(tmp_path, content):
    (tmp_path / "one.json").write_text(content)
    code, words = asked(tmp_path / "one.json")
    assert code == 2
    assert "one.json" in words
    assert "Traceback" not in words
