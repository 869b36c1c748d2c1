"""Pictures of trays painted from lures, and read again."""

import io
import random

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tackle.base.errors import InvalidInput
from tackle.colours.light import to_hex, to_linear
from tackle.colours.likeness import lab, lab_to_linear
from tackle.colours.palette import house_palette
from tackle.picture.find import find_loose, find_tray
from tackle.picture.paint import paint_tray
from tackle.picture.rectify import compartments, perspective
from tackle.picture.sample import Sampled, count_lures, is_pale, offers, read_loose, read_tray, seen_at
from tests.core import camera

PALETTE = house_palette()


def test_the_right_tone_is_among_the_first_three_offers():
    right = lures = 0
    for seed in range(4):
        scatter = random.Random(seed)
        cards = [scatter.choice(PALETTE.cards) if scatter.random() < 0.9 else None for _ in range(24)]
        painted = paint_tray(cards, 6, 4, seed)
        for card, seen in zip(cards, read_tray(painted.image, painted.corners, 6, 4, painted.white), strict=True):
            if card is None:
                assert seen is None
                continue
            lures += 1
            near = offers([seen], PALETTE.cards)[0] if seen else []
            right += card.tone in {offer.card.tone for offer in near}
            assert len({offer.card.tone for offer in near}) == len(near) <= 3
    assert right >= 0.85 * lures


def get_tray(category, seed):
    scatter = random.Random(seed)
    sold = PALETTE.sold_in(category)
    return [scatter.choice(sold) if scatter.random() < 0.75 else None for _ in range(24)]


def test_trays_by_another_hand_are_read():
    first = three = lures = right = cells = counted = 0
    for seed, category in enumerate(("jerkbait", "shallow-crankbait", "swimbait", "inshore-paddletail")):
        cards = get_tray(category, seed)
        image, corners, white, counts = camera.tray(cards, 6, 4, seed)
        seen = read_tray(image, corners, 6, 4, white)
        cells += len(cards)
        right += sum((one is None) == (card is None) for one, card in zip(seen, cards, strict=True))
        both = [(one, card) for one, card in zip(seen, cards, strict=True) if one and card]
        lures += sum(card is not None for card in cards)
        counted += sum(
            one is not None and count_lures(one, category) == count for one, count in zip(seen, counts, strict=True)
        )
        for (_, card), near in zip(both, offers([one for one, _ in both], PALETTE.sold_in(category)), strict=True):
            tones = [offer.card.tone for offer in near]
            first += tones[0] is card.tone
            three += card.tone in tones
    print(f"first {first}, three {three} of {lures}; compartments {right} of {cells}; counted {counted}")
    assert first >= 0.75 * lures
    assert three >= 0.92 * lures
    assert right >= 0.97 * cells
    assert counted >= 0.6 * lures


@pytest.mark.parametrize("seed", range(3))
def test_a_trays_corners_are_found(seed):
    image, corners, *_ = camera.tray(get_tray("jerkbait", seed), 6, 4, seed)
    for found, meant in zip(find_tray(image), corners, strict=True):
        assert found == pytest.approx(meant, abs=0.03 * image.width)


def test_where_no_tray_is_none_is_found():
    with pytest.raises(InvalidInput, match="no tray"):
        find_tray(Image.new("RGB", (400, 300), (120, 120, 120)))


def test_loose_lures_on_a_towel_are_found_each_in_turn():
    cards = [
        PALETTE.by_id[name] for name in ("tiger", "black-plain", "white-flat", "chartreuse-blue", "red-craw", "bone")
    ]
    image, centres = camera.towel(cards, 2)
    boxes = find_loose(image)
    assert len(boxes) == len(cards)
    for box, (x, y) in zip(boxes, centres, strict=True):
        assert box.left <= x <= box.left + box.width
        assert box.top <= y <= box.top + box.height
    near = offers(read_loose(image, boxes), PALETTE.sold_in("lipless-crankbait"))
    assert sum(card.tone in {offer.card.tone for offer in three} for card, three in zip(cards, near, strict=True)) >= 5


def test_three_points_on_one_lure_are_enough():
    card = PALETTE.by_id["gold-dark"]
    painted = paint_tray([card], 1, 1, seed=3)
    (ax, ay), (bx, by), (cx, cy), (dx, dy) = painted.corners
    middle = (ax + bx + cx + dx) / 4, (ay + by + cy + dy) / 4
    seen = seen_at(
        painted.image, (middle[0] - 20, middle[1] - 25), middle, (middle[0] - 20, middle[1] + 24), painted.white
    )
    assert card.tone in {offer.card.tone for offer in offers([seen], PALETTE.cards)[0]}


PIXELS = st.tuples(st.integers(0, 500).map(float), st.integers(0, 500).map(float))


@given(st.lists(PIXELS, min_size=4, max_size=4, unique=True))
def test_a_map_of_four_points_carries_them_where_it_says(points):
    square = [(0.0, 0.0), (100.0, 0.0), (100.0, 100.0), (0.0, 100.0)]
    try:
        a, b, c, d, e, f, g, h = perspective(square, points)
    except InvalidInput:
        return
    for (x, y), (u, v) in zip(square, points, strict=True):
        below = g * x + h * y + 1
        if abs(below) > 1e-3:
            assert (a * x + b * y + c) / below == pytest.approx(u, abs=1e-3)
            assert (d * x + e * y + f) / below == pytest.approx(v, abs=1e-3)


@pytest.mark.parametrize(
    ("corners", "rows"),
    [([(0, 0)] * 4, 2), ([(0, 0), (9, 0), (9, 9), (0, 9)], 2), ([(0, 0), (99, 0), (99, 99), (0, 99)], 0)],
)
def test_corners_that_make_no_tray_are_refused(corners, rows):
    with pytest.raises(InvalidInput):
        compartments(Image.new("RGB", (100, 100)), corners, rows, 2)


def test_an_empty_tray_holds_nothing():
    noise = np.random.default_rng(1).normal(150, 4, (200, 300, 3)).clip(0, 255).astype(np.uint8)
    seen = read_tray(Image.fromarray(noise), [(0, 0), (300, 0), (300, 200), (0, 200)], 2, 2)
    assert seen == [None] * 4


@pytest.mark.parametrize("seed", [3, 39, 137, 148])
def test_the_whole_tray_is_found_where_the_ground_is_like_its_compartments(seed):
    cards = PALETTE.sold_in("jerkbait")[:7]
    painted = paint_tray(cards, 4, 3, seed)
    held = io.BytesIO()
    painted.image.save(held, "JPEG", quality=90)
    for found, meant in zip(find_tray(Image.open(held)), painted.corners, strict=True):
        assert found == pytest.approx(meant, abs=0.03 * painted.image.width)


def test_a_small_tray_on_a_grainy_ground_is_not_the_picture_itself():
    painted = paint_tray(PALETTE.sold_in("jerkbait")[:9], 4, 3, seed=0)
    wide, tall = painted.image.width, painted.image.height
    ground = Image.new("RGB", (2 * wide, 2 * tall), painted.image.getpixel((3, tall - 4)))
    ground.paste(painted.image, (wide // 2, tall // 2))
    grain = np.random.default_rng(0).normal(0, 22, (2 * tall, 2 * wide, 3))
    picture = Image.fromarray((np.asarray(ground) + grain).clip(0, 255).astype(np.uint8))
    for (x, y), meant in zip(find_tray(picture), painted.corners, strict=True):
        assert (x - wide // 2, y - tall // 2) == pytest.approx(meant, abs=0.05 * wide)


def test_without_a_white_the_cast_of_a_lamp_is_found_from_the_lures_themselves():
    cards = PALETTE.sold_in("shallow-crankbait")[::3]
    warm = np.array([1.3, 1.0, 0.7])
    lit = [
        [to_hex(np.clip(to_linear([part])[0] * warm, 0, 1)) for part in (card.back, card.side, card.belly)]
        for card in cards
    ]
    seen = [Sampled(*parts, 0.0) for parts in lit]

    def right(white_told):
        found = offers(seen, PALETTE.sold_in("shallow-crankbait"), white_told=white_told)
        return sum(near[0].card.tone is card.tone for near, card in zip(found, cards, strict=True)) / len(cards)

    assert right(False) > max(right(True), 0.8)
    assert offers(seen[:2], cards, white_told=False) == offers(seen[:2], cards)  # two may be of any colour


def test_of_two_that_are_as_near_one_takes_what_one_has():
    white, bone = PALETTE.by_id["white-flat"], PALETTE.by_id["bone"]
    between = [
        to_hex(lab_to_linear((lab(getattr(white, part)) + lab(getattr(bone, part))) / 2))
        for part in ("back", "side", "belly")
    ]
    others = [card for card in PALETTE.sold_in("shallow-crankbait") if card.opacity == "opaque"][:6]  # tell the light
    seen = [Sampled(*between, 0.0), *(Sampled(card.back, card.side, card.belly, 0.0) for card in others)]
    for card in (white, bone):
        found = offers(seen, [*others, white, bone], likely={card.id})
        assert found[0][0].card == card
        assert is_pale(found[0])
    black = PALETTE.by_id["black-plain"]
    assert not is_pale(offers([Sampled(black.back, black.side, black.belly, 0.0)], [black, white, bone])[0])
