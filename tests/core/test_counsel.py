from tackle.colours.palette import house_palette
from tackle.schools.counsel import counsel
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.situation import Situation
from tackle.vocabulary import Grade, Light, Season

BOOKS = list(house_rulebooks().values())


def test_the_start_is_what_most_schools_reach_for():
    said = counsel(Situation("worm", 48.0, Light.BROKEN), house_palette(), BOOKS)
    assert said.start is not None
    assert said.start.id == "green-pumpkin-black"
    assert {book.id for book in said.behind} >= {"ladder", "short-list"}
    assert [one.book.id for one in said.said] == [book.id for book in BOOKS]
    assert all(verdict.grade is not Grade.AVOID for one in said.said for verdict in one.best)


def test_a_dispute_has_both_sides():
    clear = Situation("shallow-crankbait", 80.0, Light.BRIGHT, season=Season.SUMMER)
    disputes = counsel(clear, house_palette(), BOOKS).disputes
    assert disputes
    for dispute in disputes:
        assert {v.grade for _, v in dispute.praised} == {Grade.GO_TO}
        assert {v.grade for _, v in dispute.warned} == {Grade.AVOID}
