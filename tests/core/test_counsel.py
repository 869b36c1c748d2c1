from tackle.base.vocabulary import Grade, Light, Pace, Season
from tackle.colours.palette import house_palette
from tackle.schools.counsel import counsel
from tackle.schools.rulebook import house_rulebooks, read_rulebook
from tackle.situations.situation import Situation
from tests.core.examples import call

BOOKS = list(house_rulebooks().values())
FOLLOWED = [house_rulebooks()[school] for school in ("ladder", "menu", "sheen")]


def test_the_start_is_a_first_choice_of_a_school_that_is_followed():
    said = counsel(Situation("worm", 48.0, Light.BROKEN), house_palette(), BOOKS, FOLLOWED)
    assert said.start is not None
    assert said.start.book in FOLLOWED
    assert said.start.book in said.supporters
    alone = counsel(Situation("worm", 48.0, Light.BROKEN), house_palette(), BOOKS, FOLLOWED[:1])
    ladder = next(one for one in alone.said if one.book is FOLLOWED[0])
    assert alone.start is not None
    assert alone.start.card is ladder.first.card
    assert [one.book.id for one in said.said] == [book.id for book in BOOKS]
    assert all(verdict.grade is not Grade.AVOID for one in said.said for verdict in one.best)


def test_a_dispute_has_both_sides():
    clear = Situation("shallow-crankbait", 80.0, Light.BRIGHT, season=Season.SUMMER, pace=Pace.FAST)
    warning = call(
        "never-loud", "shallow-crankbait", {"visibility_in": {"from": 48}}, {"brightness": "bright"}, "avoid"
    )
    head = {"id": "calm", "name": "Calm", "question": "Why?", "short": "Nothing loud.", "order": 9}
    calm = read_rulebook({"school": head, "call": [warning]}, "calm.toml")
    disputes = counsel(clear, house_palette(), [*BOOKS, calm], FOLLOWED).disputes
    assert disputes
    for dispute in disputes:
        assert {v.grade for _, v in dispute.praised} == {Grade.GO_TO}
        assert {v.grade for _, v in dispute.warned} == {Grade.AVOID}
