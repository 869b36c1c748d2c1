"""./wax vendor: refreshes the front-end files that ship with the app, by package name, with the npm client."""

import re
import subprocess
import sys
import tarfile
import tempfile
import tomllib
from pathlib import Path

FOLDER = Path(__file__).parent.parent / "web" / "ui" / "static" / "vendor"
LIST = FOLDER / "vendor.toml"


def refresh(package: dict, folder: Path) -> str:
    """Takes one package's files into the vendor folder; returns the version they are of."""
    wanted = f"{package['name']}@{package['range']}"
    packed = subprocess.run(
        ["npm", "pack", "--silent", wanted], cwd=folder, check=True, capture_output=True, text=True
    ).stdout.split()[-1]
    with tarfile.open(folder / packed) as archive:

        def read(name: str) -> bytes:
            member = archive.extractfile(f"package/{name}")
            if member is None:
                raise FileNotFoundError(f"{wanted} holds no {name}")
            return member.read()

        for ours, theirs in package["files"].items():
            (FOLDER / ours).write_bytes(read(theirs))
        if "licence_file" in package:
            name = package["name"].split("/")[-1] + ".txt"
            (FOLDER / "licences").mkdir(exist_ok=True)
            (FOLDER / "licences" / name).write_bytes(read(package["licence_file"]))
        return re.search(rb'"version":\s*"([^"]+)"', read("package.json"))[1].decode()


def main() -> None:
    text = LIST.read_text()
    for package in tomllib.loads(text)["package"]:
        with tempfile.TemporaryDirectory() as folder:
            version = refresh(package, Path(folder))
        entry = re.compile(rf'(name = "{re.escape(package["name"])}"\nrange = "[^"]*"\nversion = )"[^"]*"')
        text = entry.sub(rf'\1"{version}"', text)
        print(f"· {package['name']} {version}")
    LIST.write_text(text)


if __name__ == "__main__":
    sys.exit(main())
