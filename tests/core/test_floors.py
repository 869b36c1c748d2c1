"""The picture of the folders in docs/house.md is what the imports are."""

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[2]


def test_the_picture_of_the_folders_is_drawn_from_the_imports_as_they_are(tmp_path):
    drawn = tmp_path / "floors.svg"
    command = [sys.executable, "ops/floors.py", str(drawn)]
    subprocess.run(command, cwd=ROOT, env={**os.environ, "PYTHONPATH": str(ROOT)}, check=True)
    assert drawn.read_text() == (ROOT / "docs" / "floors.svg").read_text()
