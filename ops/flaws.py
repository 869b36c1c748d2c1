"""./wax flaws FILE ...: the packages and front-end files that ship, checked against advisories in files at hand.

A file is JSON in the Open Source Vulnerability format (https://ossf.github.io/osv-schema/), one advisory or a list, or
a zip of such: as databases of advisories give them out, for PyPI and for npm. Nothing is fetched.
"""

import json
import os
import re
import signal
import sys
import tomllib
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any, NamedTuple

from packaging.utils import canonicalize_name
from packaging.version import InvalidVersion, Version

ROOT = Path(__file__).parent.parent
FROM = Path(os.environ.get("WAX_FROM", "."))  # where the command was given
LOCKS = ("build.txt", "run.txt")
VENDORED = ROOT / "web" / "common" / "ui" / "static" / "vendor" / "vendor.toml"
PINNED = re.compile(r"^([A-Za-z0-9._-]+)(?:\[[^\]]*\])?==(\S+)", re.MULTILINE)


class Flaw(NamedTuple):
    """One advisory that a package of ours falls under."""

    package: str
    version: str
    id: str
    summary: str
    fixed: str


def shipped(root: Path = ROOT) -> dict[tuple[str, str], str]:
    """What ships: (ecosystem, name) -> version."""
    found = {}
    for lock in LOCKS:
        for name, version in PINNED.findall((root / "requirements" / lock).read_text()):
            found["PyPI", canonicalize_name(name)] = version
    for package in tomllib.loads(VENDORED.read_text())["package"]:
        found["npm", package["name"].lower()] = package["version"]
    return found


def advisories(path: Path) -> Iterator[dict[str, Any]]:
    """The advisories in a file. Raises ValueError where it is none of the forms."""
    if zipfile.is_zipfile(path):
        with zipfile.ZipFile(path) as packed:
            for name in packed.namelist():
                if name.endswith(".json"):
                    yield from _listed(packed.read(name), f"{path.name}, {name}")
    else:
        yield from _listed(path.read_bytes(), path.name)


def _listed(content: bytes, where: str) -> list[dict[str, Any]]:
    try:
        told = json.loads(content)
    except ValueError as error:
        raise ValueError(f"{where} is no JSON: {error}") from None
    listed = told if isinstance(told, list) else [told]
    if not all(isinstance(one, dict) and "id" in one for one in listed):
        raise ValueError(f"{where} holds no advisories: each is an object with an id and what it affects")
    return listed


def flaws(advisory: dict[str, Any], ours: dict[tuple[str, str], str]) -> Iterator[Flaw]:
    """What of ours falls under an advisory that was not withdrawn."""
    if advisory.get("withdrawn"):
        return
    for affected in advisory.get("affected", []):
        package = affected.get("package", {})
        ecosystem, name = package.get("ecosystem", "").split(":")[0], package.get("name", "")
        key = ecosystem, canonicalize_name(name) if ecosystem == "PyPI" else name.lower()
        version = ours.get(key)
        if version and _falls_under(version, affected):
            events = [event for span in affected.get("ranges", []) for event in span.get("events", [])]
            fixed = ", ".join(event["fixed"] for event in events if "fixed" in event)
            words = advisory.get("summary") or advisory.get("details", "")
            yield Flaw(name, version, advisory["id"], " ".join(words.split())[:100], fixed)


def _falls_under(version: str, affected: dict[str, Any]) -> bool:
    """The evaluation that the format describes: listed, or between an event that introduces it and one that ends it."""
    if version in affected.get("versions", []):
        return True
    return any(
        _within(Version(version), span["events"])
        for span in affected.get("ranges", [])
        if span.get("type") in ("ECOSYSTEM", "SEMVER")
    )


def _within(version: Version, events: list[dict[str, str]]) -> bool:
    inside = False
    for event in sorted(events, key=lambda one: _order(next(iter(one.values())))):
        kind, told = next(iter(event.items()))
        at = _order(told)
        if kind == "introduced" and version >= at:
            inside = True
        elif (kind == "fixed" and version >= at) or (kind == "last_affected" and version > at):
            inside = False
    return inside


def _order(told: str) -> Version:
    try:
        return Version(told)
    except InvalidVersion:  # of a form that packages had long ago: before all others
        return Version("0")


def main(files: list[str]) -> int:
    if not files:
        print("usage: ./wax flaws FILE ...   (advisories as JSON in the OSV format, or a zip of them)")
        return 2
    ours, found, read, newest = shipped(), set(), 0, ""
    for file in files:
        try:
            for advisory in advisories(FROM / file):
                read += 1
                newest = max(newest, str(advisory.get("modified", ""))[:10])
                found |= set(flaws(advisory, ours))
        except (OSError, ValueError) as error:
            print(f"{file}: {error}", file=sys.stderr)
            return 2
    for flaw in sorted(found):
        print(f"{flaw.package} {flaw.version}: {flaw.id}, {flaw.summary}; fixed in {flaw.fixed or 'none yet'}")
    of = f"the newest of {newest}" if newest else "none with a date"
    print(f"{len(ours)} packages against {read} advisories ({of}): {len(found) or 'no'} known flaws")
    return 1 if found else 0


if __name__ == "__main__":
    signal.signal(signal.SIGPIPE, signal.SIG_DFL)  # whoever reads this may stop reading
    sys.exit(main(sys.argv[1:]))
