"""./wax vendor: checks the front-end files that ship with the app by their hashes; with --refresh it takes them anew,
by package name, with the npm client."""

import hashlib
import re
import subprocess
import sys
import tarfile
import tempfile
import tomllib
from pathlib import Path

FOLDER = Path(__file__).parent.parent / "web" / "common" / "ui" / "static" / "vendor"
LIST = FOLDER / "vendor.toml"


def hashed(folder: Path) -> dict[str, str]:
    """The SHA-256 of each file that ships, by its name."""
    files = sorted(path for path in folder.rglob("*") if path.is_file() and path.name != LIST.name)
    return {str(path.relative_to(folder)): hashlib.sha256(path.read_bytes()).hexdigest() for path in files}


def differences(folder: Path = FOLDER) -> list[str]:
    """What is not as the list says, file by file."""
    told, there = tomllib.loads((folder / LIST.name).read_text()).get("sha256", {}), hashed(folder)
    words = dict.fromkeys(told.keys() - there.keys(), "is on the list, and not here")
    words |= dict.fromkeys(there.keys() - told.keys(), "is here, and not on the list")
    words |= {name: "is not the file of the list" for name in told.keys() & there.keys() if told[name] != there[name]}
    return [f"{name} {words[name]}" for name in sorted(words)]


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


def refresh_all() -> None:
    text = LIST.read_text()
    for package in tomllib.loads(text)["package"]:
        with tempfile.TemporaryDirectory() as folder:
            version = refresh(package, Path(folder))
        entry = re.compile(rf'(name = "{re.escape(package["name"])}"\nrange = "[^"]*"\nversion = )"[^"]*"')
        text = entry.sub(rf'\1"{version}"', text)
        print(f"· {package['name']} {version}")
    listed = "".join(f'"{name}" = "{told}"\n' for name, told in hashed(FOLDER).items())
    LIST.write_text(f"{text.partition('[sha256]')[0]}[sha256]\n{listed}")


def main() -> str | None:
    if sys.argv[1:] == ["--refresh"]:
        refresh_all()
    elif sys.argv[1:]:
        return "usage: ./wax vendor [--refresh]"
    if wrong := differences():
        return "\n".join(["The front-end files are not those of vendor.toml:", *wrong])
    print("The front-end files are those of vendor.toml.")
    return None


if __name__ == "__main__":
    sys.exit(main())
