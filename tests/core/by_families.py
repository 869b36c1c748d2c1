"""What the fourth corrections ask of a plan, said once more by hand: one of each family, first choices, closeness."""

from tackle.base.vocabulary import Grade
from tackle.colours.family import family
from tackle.schools.evaluation import rank
from tackle.schools.top_choice import ask

MILLION = 1_000_000


def accepted(books, card, situation, accept=Grade.WORKS):
    """Whether a school accepts a card."""
    good = (Grade.GO_TO, Grade.WORKS) if accept is Grade.WORKS else (Grade.GO_TO,)
    return any(v.card is card and v.grade in good for book in books for v in rank(book, [card], situation))


def list_kept(cards, category, owned, locked, days, votes):
    """One card of each family, those locked in their family's place; `days` and `votes`: by card, over all days."""
    groups = {}
    for card in cards:
        groups.setdefault(family(card, category), []).append(card)
    kept = set()
    for members in groups.values():
        fixed = [card for card in members if card.id in locked]
        best = max(
            members,
            key=lambda c: (c.id in owned and days[c] > 0, days[c], votes[c], -cards.index(c)),
        )
        kept.update(fixed or [best])
    return [card for card in cards if card in kept]


def first_ids(book, cards, situation):
    """The ids of a school's first choices, as `advise` tells them: the go-to cards whose call is that of the first."""
    verdicts = rank(book, cards, situation)
    if not verdicts or verdicts[0].grade is not Grade.GO_TO:
        return set()
    call = verdicts[0].call.written
    return {v.card.id for v in verdicts if v.grade is Grade.GO_TO and v.call.written == call}


def widened(ids, books, cards, situation, accept=Grade.WORKS):
    """First choices with what is of their families and accepted."""
    kin = {family(card, situation.category) for card in cards if card.id in ids}
    mine = {c.id for c in cards if family(c, situation.category) in kin and accepted(books, c, situation, accept)}
    return ids | mine


def votes_on(books, cards, situation):
    """By card the votes of its family and its own; and the most that a family has."""
    asked = ask(books, cards, situation)
    told = {card: asked.votes(card) for card in cards}
    return told, max((kin for kin, _ in told.values()), default=0)


def quotient(votes, most):
    return (2 * MILLION * votes + most) // (2 * most) if most else 0
