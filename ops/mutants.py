"""./wax mutants PART ...: breaks the code on purpose, a change at a time, and tells which changes no test notices.

The mutation tester is mutmut; it works in a clone of its own. What survives has to be explained in ops/mutants.toml.
"""

import os
import re
import subprocess
import sys
import tempfile
import tomllib
from pathlib import Path

ROOT = Path(__file__).parent.parent
LIST = ROOT / "ops" / "mutants.toml"
SURVIVED = re.compile(r"^\s*(\S+__mutmut_\d+): (survived|no tests|timeout|suspicious)", re.MULTILINE)
SETUP = """[mutmut]
source_paths=tackle
only_mutate=
    {modules}
pytest_add_cli_args_test_selection=
    {tests}
also_copy=
    tests
    web
    ops
    requirements
    wax
    pyproject.toml
"""


def main(asked: list[str]) -> str | None:
    told = tomllib.loads(LIST.read_text())
    parts, known = told["part"], told.get("known", {})
    if unknown := set(asked) - set(parts):
        return f"There is no {', '.join(sorted(unknown))}; parts are {', '.join(parts)}."
    left = [line for part in asked or parts for line in survivors(part, parts[part]) if line.split(":")[0] not in known]
    if left:
        return "\n\n".join(["No test notices these changes:", *left])
    print("Every change is noticed by a test, or explained.")
    return None


def survivors(part: str, told: dict[str, list[str]]) -> list[str]:
    """The changes of a part that no test notices, each by its name and as a difference."""
    with tempfile.TemporaryDirectory(prefix="wax-mutants-") as place:
        clone = Path(place) / "clone"
        subprocess.run(["git", "clone", "-q", str(ROOT), str(clone)], check=True)
        (Path(place) / "shared").symlink_to(ROOT.parent / "shared")
        join = "\n    ".join
        (clone / "setup.cfg").write_text(SETUP.format(modules=join(told["modules"]), tests=join(told["tests"])))
        mutmut = [str(Path(sys.executable).parent / "mutmut")]
        there = {**os.environ, "WAX_SECRET_KEY": "none", "WAX_DB_PASSWORD": "none", "PYTHONHASHSEED": "0"}
        run = subprocess.run([*mutmut, "run"], cwd=clone, env=there, capture_output=True, text=True)
        results = subprocess.run([*mutmut, "results"], cwd=clone, env=there, capture_output=True, text=True).stdout
        told_last = run.stdout.replace("\r", "\n").strip().splitlines()[-1:]
        print(f"· {part}: {' '.join(told_last)}", flush=True)
        if run.returncode and not results:
            raise SystemExit(f"{run.stdout[-2000:]}\n{run.stderr[-2000:]}")
        found = []
        for name, state in SURVIVED.findall(results):
            shown = subprocess.run([*mutmut, "show", name], cwd=clone, env=there, capture_output=True, text=True).stdout
            changed = [line for line in shown.splitlines() if re.match(r"[+-](?![+-])", line)]
            found.append("\n".join([f"{name}: {state}", *changed]))
        return found


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
