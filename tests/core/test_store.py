import numpy as np

from tackle.base import store
from tackle.base.store import Serializer, Store


def test_answers_are_kept_by_content_and_the_longest_unasked_goes_first():
    made, small = [], Store(megabytes=1)

    def answer(number, scale=1):
        def make():
            made.append(number)
            return np.full(25_000, number * scale)  # 0.2 MB

        return small.once("numbers", (number, scale), make)

    assert answer(1) is answer(1)
    assert answer(1, scale=2)[0] == 2
    for number in (2, 3, 1, 4, 5):
        answer(number)
    assert made == [1, 1, 2, 3, 4, 5]
    for number in (2, 3, 1, 4, 5):
        answer(number)
    assert made == [1, 1, 2, 3, 4, 5]
    answer(1, scale=2)  # five fit, and nobody had asked for this one for longest
    assert made == [1, 1, 2, 3, 4, 5, 1]


def test_what_weighs_too_much_alone_is_not_kept():
    made, small = [], Store(megabytes=1)
    for _ in range(2):
        small.once("large", (), lambda: made.append(1) or (np.zeros(40_000),))
    assert made == [1, 1]


def test_nothing_is_an_answer_too():
    made, small = [], Store(megabytes=1)
    for _ in range(2):
        assert small.once("nothing", (), lambda: made.append(1)) is None
    assert made == [1]


class Disk(dict):
    def get(self, name, version):
        return super().get((name, version))

    def put(self, name, version, content):
        self[name, version] = content


def test_what_is_packed_is_found_by_another_process_and_unpacked_once():
    disk, text = Disk(), Serializer(str.encode, bytes.decode)
    assert Store(1, disk).once("page", ("wren", 3), lambda: "drawn", text) == "drawn"
    other = Store(1, disk)
    assert other.has("page", ("wren", 3))
    assert not other.has("page", ("wren", 4))
    assert other.once("page", ("wren", 3), lambda: "drawn anew", text) == "drawn"
    disk.clear()
    assert other.once("page", ("wren", 3), lambda: "drawn anew", text) == "drawn"


def test_of_what_has_versions_the_last_made_is_kept():
    made, small = [], Store(megabytes=1)

    def water(version):
        return small.once("water", "tarn", lambda: made.append(version) or f"{version} ft", version=version)

    assert [water(one) for one in (3, 3, 4, 4, 3)] == ["3 ft", "3 ft", "4 ft", "4 ft", "3 ft"]
    assert made == [3, 4, 3]
    assert small.has("water", "tarn", 3)
    assert not small.has("water", "tarn", 4)


def test_a_function_is_kept_by_what_it_is_asked_with():
    asked = []

    @store.kept("test of the store")
    def shares(whole, parts):
        asked.append(whole)
        return [one / whole for one in parts]

    assert shares(2, [1, 2]) is shares(2, [1, 2])
    assert shares(2, [1, 3]) != shares(2, [1, 2])
    assert shares(2, parts=(1, 2)) == [0.5, 1.0]
    assert len(asked) == 3
