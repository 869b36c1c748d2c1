"""A folder that several processes share holds what was put there, no more than it may, and never half of anything."""

from concurrent.futures import ThreadPoolExecutor

import pytest

from web.common.ui.file_cache import FileCache


def test_what_was_put_is_there_for_all_who_share_the_folder_and_of_its_version_alone(tmp_path):
    one, other = FileCache(tmp_path, 50, 100), FileCache(tmp_path, 50, 100)
    one.put("wren /crate/", "3", b"a tray")
    assert (other.get("wren /crate/", "3"), other.get("wren /crate/", "4")) == (b"a tray", None)
    other.put("wren /crate/", "4", b"two trays")
    assert (one.get("wren /crate/", "3"), one.get("wren /crate/", "4")) == (None, b"two trays")
    assert one.get("wren /crate/ 4", "") is None


def test_it_holds_so_many_and_nothing_too_large(tmp_path):
    slots = FileCache(tmp_path, 5, 100)
    for number in range(200):
        slots.put(f"page {number}", "1", b"x" * 100)
    slots.put("large", "1", b"x" * 101)
    assert len(list(tmp_path.iterdir())) == 5
    assert slots.get("large", "1") is None
    assert slots.get("page 199", "1") == b"x" * 100


def test_several_at_once_never_get_half_or_anothers(tmp_path):
    def put_and_get(number):
        slots, wrong = FileCache(tmp_path, 2, 100_000), 0
        for version in range(60):
            slots.put(f"page {number}", str(version), bytes([number]) * 60_000)
            wrong += slots.get(f"page {number}", str(version)) not in (None, bytes([number]) * 60_000)
        return wrong

    with ThreadPoolExecutor(6) as several:
        assert sum(several.map(put_and_get, range(6))) == 0
    assert len(list(tmp_path.iterdir())) <= 2


def test_nothing_is_left_of_what_was_cleared(tmp_path):
    slots = FileCache(tmp_path, 5, 100)
    slots.put("page", "1", b"drawn")
    slots.clear()
    assert (list(tmp_path.iterdir()), slots.get("page", "1")) == ([], None)


@pytest.mark.parametrize("folder", ["nowhere", "file"])
def test_where_nothing_can_be_kept_nothing_is(tmp_path, folder):
    (tmp_path / "file").write_text("no folder")
    slots = FileCache(tmp_path / folder, 5, 100)
    slots.put("page", "1", b"drawn")
    assert slots.get("page", "1") is None
