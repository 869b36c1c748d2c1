import numpy as np

from tackle.kept import Latest, kept


def test_answers_are_kept_by_content_and_the_longest_unasked_goes_first():
    made = []

    @kept(megabytes=1)
    def answer(number, scale=1):
        made.append(number)
        return np.full(25_000, number * scale)  # 0.2 MB

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
    made = []

    @kept(megabytes=1)
    def large():
        made.append(1)
        return (np.zeros(40_000),)

    large()
    large()
    assert made == [1, 1]


def test_of_versions_the_last_alone_is_kept():
    held = Latest(megabytes=1)
    held.put("crate", 1, b"old" * 100)
    held.put("crate", 2, b"new" * 100)
    assert (held.get("crate", 1), held.get("crate", 2)) == (None, b"new" * 100)
    for version in range(5000):
        held.put("crate", version, bytes(200_000))
    held.put("tray", 1, b"beside it")
    assert (held.get("crate", 4999), held.get("tray", 1)) == (bytes(200_000), b"beside it")
