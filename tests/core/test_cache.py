import numpy as np

from tackle.cache import cached


def test_answers_are_kept_by_content_and_the_longest_unasked_goes_first():
    made = []

    @cached(megabytes=1)
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

    @cached(megabytes=1)
    def large():
        made.append(1)
        return (np.zeros(40_000),)

    large()
    large()
    assert made == [1, 1]
