"""The one command where something is missing: no end without a word, and nothing installed that nothing needs."""

import os
import shutil
import sys
from pathlib import Path

import pytest

from tests.web.test_running import ROOT, Here

COMMANDS = ("demo", "serve", "test", "plan")


@pytest.fixture
def clone(tmp_path):
    return Here(tmp_path / "a clone")


def path_without(tmp_path, *left_out, **scripts):
    """A folder with all commands of the machine but some, and with some of our own."""
    folder = tmp_path / "bin"
    folder.mkdir()
    for whole in (one for place in ("/usr/bin", "/bin") for one in Path(place).iterdir()):
        if not whole.name.startswith(left_out) and not (folder / whole.name).exists():
            (folder / whole.name).symlink_to(whole)
    for name, text in scripts.items():
        (folder / name.replace("_", "-")).unlink(missing_ok=True)
        (folder / name.replace("_", "-")).write_text(f"#!/bin/bash\n{text}\n")
        (folder / name.replace("_", "-")).chmod(0o755)
    return str(folder)


@pytest.mark.parametrize("command", COMMANDS)
def test_without_python_the_packages_are_asked_for(clone, tmp_path, command):
    nothing = {"apt_get": "exit 1", "dpkg": "exit 1", "dpkg_query": "exit 1", "sudo": 'exec "$@"'}
    path = path_without(tmp_path, "python", **nothing)
    said = clone.wax(command, PATH=path, WAX_ENVIRONMENT="")
    assert said.returncode == 1
    assert "python3" in said.stdout + said.stderr
    assert "installing Debian packages failed" in said.stderr


def test_what_ends_without_a_word_says_where(clone):
    file = clone.folder / "ops/server.sh"
    file.write_text(file.read_text() + "\nfind_nothing() { false; }\nfind_nothing\n")
    said = clone.wax("stop")
    assert said.returncode == 1
    line = len(file.read_text().splitlines()) - 1
    assert said.stderr.strip() == f"wax: ended with status 1 at ops/server.sh, line {line}: false"


def test_what_has_been_said_is_said_once(clone):
    said = clone.wax("backup", "--keep", "none", "--into", "here")
    assert (said.returncode, said.stderr.count("wax:")) == (1, 1)


@pytest.mark.parametrize(
    ("told", "words"),
    [
        ({"WAX_DB_PORT": "abc"}, 'WAX_DB_PORT is "abc"; a port is a number from 1 to 65535'),
        ({"WAX_DB_PORT": "70000"}, "a port is a number from 1 to 65535"),
        ({"WAX_PORT": "8765", "WAX_DB_PORT": "8765"}, "are both 8765"),
    ],
)
def test_a_port_that_is_none_is_refused_in_a_sentence(clone, told, words):
    said = clone.wax("serve", **told)
    assert (said.returncode, words in said.stderr) == (1, True)


def test_a_low_port_takes_root(clone, tmp_path):
    path = path_without(tmp_path, "id", id='[ "$1" = -u ] && echo 1000 || exec /usr/bin/id "$@"')
    if Path("/proc/sys/net/ipv4/ip_unprivileged_port_start").read_text().strip() == "0":
        pytest.skip("on this machine everybody may open every port")
    said = clone.wax("serve", WAX_PORT="80", PATH=path)
    assert (said.returncode, "a port below 1024 takes root" in said.stderr) == (1, True)


def test_a_backup_is_looked_for_in_a_fresh_clone_with_a_key(clone, tmp_path):
    (tmp_path / "key").write_text("a long line of one's own\n")
    (tmp_path / "no.backup").write_bytes(b"nothing")
    path = path_without(tmp_path, "gpg", apt_get="exit 1", sudo='exec "$@"', dpkg="exit 1")
    said = clone.wax("restore", tmp_path / "no.backup", "--key", tmp_path / "key", PATH=path)
    assert "installing gnupg failed" in said.stderr
    assert "No such file" not in said.stderr


def test_a_database_that_is_there_needs_no_room_to_be_made(clone, tmp_path):
    server = clone.start()
    server.terminate()
    server.wait(90)
    full = path_without(tmp_path, "df", df='echo "Filesystem M Used Free"; echo "/dev/x 9 9 12 99% /"')
    server = clone.start(PATH=full + os.pathsep + os.environ["PATH"])
    server.terminate()
    server.wait(90)


def test_a_test_that_is_not_there_is_said_first(clone):
    said = clone.wax("test", "tests/core/test_nothing.py::test_one", WAX_ENVIRONMENT="")
    assert said.returncode == 1
    assert said.stderr.startswith("wax: there is no tests/core/test_nothing.py")
    assert not (clone.folder / "var").exists()


def test_a_test_of_the_core_takes_neither_database_nor_browser(clone):
    shutil.copytree(ROOT / "tests", clone.folder / "tests", ignore=shutil.ignore_patterns("__pycache__"))
    shutil.copy2(ROOT / "pyproject.toml", clone.folder)
    (clone.folder / "var").mkdir()
    (clone.folder / "var/env-dev").symlink_to(sys.prefix)
    said = clone.wax("test", "tests/core/test_units.py")
    assert (said.returncode, "passed" in said.stdout) == (0, True), said.stdout + said.stderr
    assert "database" not in said.stdout


def test_compiled_files_are_kept_whatever_the_caller_says(clone):
    clone.wax("advise", PYTHONDONTWRITEBYTECODE="1")
    assert [one for one in (clone.folder / "var/compiled").rglob("*.pyc") if one.parent.name == "commands"]
