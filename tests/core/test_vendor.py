"""The front-end files that ship are those of the list."""

import shutil

from ops.vendor import FOLDER, differences


def test_the_files_that_ship_are_those_of_the_list():
    assert differences() == []


def test_a_file_that_was_changed_added_or_lost_is_told(tmp_path):
    folder = shutil.copytree(FOLDER, tmp_path / "vendor")
    (folder / "htmx.min.js").write_text("something else")
    (folder / "more.js").write_text("more")
    (folder / "bulma.min.css").unlink()
    assert differences(folder) == [
        "bulma.min.css is on the list, and not here",
        "htmx.min.js is not the file of the list",
        "more.js is here, and not on the list",
    ]
