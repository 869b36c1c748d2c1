"""Requests as they come in: whole, too slow, too large."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from web.serving.arriving import Arriving, Stopped

HEAD = b"POST /a%20page/?q=1 HTTP/1.1\r\nHost: here\r\nContent-Length: 11\r\n\r\n"
WHOLE = HEAD + b"hello=there"


def arriving(most=1000, asked=None):
    return Arriving(0.0, lambda path: asked.append(path) or most if asked is not None else most)


@given(st.lists(st.integers(1, len(WHOLE) + 20), max_size=12), st.binary(max_size=20))
def test_in_whatever_pieces_it_comes_it_is_whole_at_its_end_and_the_rest_is_left(cuts, after):
    sent, one, whole = WHOLE + after, arriving(), False
    cuts = sorted({min(cut, len(sent)) for cut in cuts} | {len(sent)})
    for start, end in zip([0, *cuts], cuts, strict=False):
        if whole:
            one.left += sent[start:end]
        else:
            whole = one.take(sent[start:end], 0.0)
            assert whole == (end >= len(WHOLE))
    assert (one.whole().read(), one.left) == (WHOLE, after)


def test_its_bound_is_asked_for_the_path_and_kept_before_the_body_is_read():
    asked = []
    assert arriving(11, asked).take(WHOLE, 0.0)
    assert asked == ["/a page/"]
    with pytest.raises(Stopped, match="at most 10 bytes"):
        arriving(10).take(HEAD, 0.0)


@pytest.mark.parametrize(
    ("sent", "status"),
    [
        (b"POST / HTTP/1.1\r\nTransfer-Encoding: chunked\r\n\r\n", "411"),
        (b"POST / HTTP/1.1\r\nContent-Length: 1\r\nContent-Length: 2\r\n\r\n", "400"),
        (b"POST / HTTP/1.1\r\nContent-Length: +5\r\n\r\n", "400"),
        (b"GET / HTTP/1.1\r\nA: " + b"a" * 40_000, "431"),
    ],
)
def test_what_has_no_clear_end_is_not_taken(sent, status):
    with pytest.raises(Stopped) as stopped:
        arriving().take(sent, 0.0)
    assert stopped.value.status.startswith(status)


def test_a_header_has_ten_seconds_and_a_body_thirty_unless_it_comes_fast():
    slow = arriving()
    slow.take(HEAD[:20], 9.0)
    slow.check(9.9)
    with pytest.raises(Stopped, match="header"):
        slow.check(10.1)
    slow.take(HEAD[20:], 9.9)
    slow.check(39.8)
    with pytest.raises(Stopped, match="body"):
        slow.check(40.0)
    large = arriving(10_000_000)
    large.take(b"POST / HTTP/1.1\r\nContent-Length: 9000000\r\n\r\n" + b"a" * 800_000, 0.0)
    large.check(49.0)  # 16 kB and more a second
    with pytest.raises(Stopped):
        large.check(51.0)
