"""One word for one thing: what was said otherwise once stands on no screen."""

import re

import pytest

from tests.web.words import code_sentences, template_texts

GIVEN_UP = {
    r"house rules?": "my rule",
    r"drills?": "quiz",
    r"schools?": "rulebook",
    r"aboard|ashore": "in the boat, at home",
    r"par": "target",
    r"anew": "again",
    r"pieces?": "lure",
    r"kinds? of lures?": "category",
    r"made do|go-to": "will do, first choice",
    r"two-faced": "two-tone",
    r"quarrels?": "debate",
    r"second look": "fish's view",
    r"good enough": "will do",
    r"colour cards?": "colour",
}


@pytest.mark.parametrize("given_up", GIVEN_UP)
def test_no_screen_says_a_word_that_was_given_up(given_up):
    pattern = re.compile(rf"\b(?:{given_up})\b", re.IGNORECASE)
    said = [(path.name, text) for texts in (template_texts(), code_sentences()) for path, text in texts]
    assert len(said) > 1_000
    assert [(name, match[0]) for name, text in said if (match := pattern.search(text))] == []
