"""A camera to try the reader with, which knows nothing of how it reads: lures as drawn shapes at angles, several in a
compartment, see-through walls, warm and uneven light, highlights, a label, noise, JPEG."""

import io
import random

import numpy as np
from PIL import Image, ImageDraw, ImageFilter

from tackle.picture.rectify import perspective

WIDE, TALL = 300, 170


def _rgb(hex_colour):
    return tuple(int(hex_colour[at : at + 2], 16) for at in (1, 3, 5))


def _lure(card, scatter, ground):
    """One lure on a clear ground, twice as large: a fish-like body in three bands, eye, hooks, at some angle."""
    length, depth = scatter.randint(330, 440), scatter.randint(84, 120)
    sheet = Image.new("RGBA", (600, 600))
    mask = Image.new("L", (600, 600))
    left, top = 300 - length // 2, 300 - depth // 2
    ImageDraw.Draw(mask).ellipse((left, top, left + length, top + depth), fill=255)
    ImageDraw.Draw(mask).polygon(
        [(left + length - 60, 300), (left + length + 30, 262), (left + length + 30, 338)], fill=255
    )
    bands = Image.new("RGB", (600, 600))
    draw = ImageDraw.Draw(bands)
    see_through = {"opaque": 0.0, "semi": 0.1, "translucent": 0.28}[card.opacity]
    for part, low, high in (("back", 0, 0.3), ("side", 0.3, 0.72), ("belly", 0.72, 1.2)):
        own = _rgb(getattr(card, part))
        mixed = tuple(round(a * (1 - see_through) + b * see_through) for a, b in zip(own, ground, strict=True))
        draw.rectangle((0, top + low * depth, 600, top + high * depth), fill=mixed)
    bands = bands.filter(ImageFilter.GaussianBlur(5))
    draw = ImageDraw.Draw(bands)
    for hue in card.flake_srgb:
        for _ in range(40):
            x, y = scatter.randint(left, left + length), scatter.randint(top, top + depth)
            draw.ellipse((x, y, x + 5, y + 5), fill=_rgb(hue))
    draw.ellipse((left + 40, 285, left + 56, 301), fill=(20, 20, 20))
    sheet.paste(bands, mask=mask)
    for x in (left + length // 3, left + 2 * length // 3):
        ImageDraw.Draw(sheet).arc(
            (x, top + depth - 6, x + 30, top + depth + 30), 0, 180, fill=(70, 70, 74, 255), width=4
        )
    if scatter.random() < 0.5:
        sheet = sheet.transpose(Image.Transpose.FLIP_LEFT_RIGHT)
    turned = sheet.rotate(scatter.uniform(-14, 14), Image.Resampling.BICUBIC)
    return turned.resize((300, 300), Image.Resampling.LANCZOS)


def _shot(flat, scatter, warm):
    """The flat scene as a cheap camera takes it: warm, darker to the corners, noisy, compressed."""
    pixels = np.asarray(flat, dtype=float) / 255
    y, x = np.mgrid[-1 : 1 : flat.height * 1j, -1 : 1 : flat.width * 1j]
    pixels *= (1 - 0.13 * (x**2 + y**2) / 2 + 0.04 * x)[..., None] * np.array(warm)
    pixels += np.random.default_rng(scatter.randint(0, 999)).normal(0, 0.012, pixels.shape)
    held = io.BytesIO()
    Image.fromarray((np.clip(pixels, 0, 1) * 255).astype(np.uint8)).save(held, "JPEG", quality=70)
    return Image.open(held).convert("RGB")


def _wood(size, scatter):
    rng = np.random.default_rng(scatter.randint(0, 999))
    grain = np.cumsum(rng.normal(0, 1, size[1]))
    grain = (grain - grain.mean()) / (np.abs(grain).max() + 1)
    tones = np.array([112, 74, 44]) * (1 + 0.16 * grain[:, None])
    image = Image.fromarray(np.repeat(tones[:, None].clip(0, 255).astype(np.uint8), size[0], axis=1))
    return image.filter(ImageFilter.GaussianBlur(3))


def tray(cards, rows, columns, seed):
    """A picture of a tray; each compartment holds nothing, or one or two of a card. With its corners, its white, and
    how many lie in each."""
    scatter = random.Random(seed)
    ground = scatter.choice([(186, 184, 180), (168, 172, 170), (196, 190, 180)])
    margin = 90
    size = (columns * WIDE + 2 * margin, rows * TALL + 2 * margin)
    flat = _wood(size, scatter)
    draw = ImageDraw.Draw(flat)
    draw.rectangle((margin - 10, margin - 10, size[0] - margin + 10, size[1] - margin + 10), fill=(150, 152, 150))
    counts = []
    for place in range(rows * columns):
        left, top = margin + place % columns * WIDE, margin + place // columns * TALL
        draw.rectangle((left + 3, top + 3, left + WIDE - 4, top + TALL - 4), fill=ground)
        draw.line(
            (left + 6, top + 4, left + WIDE - 8, top + 4), fill=tuple(min(255, one + 28) for one in ground), width=2
        )
        card = cards[place]
        counts.append(scatter.choice((1, 1, 1, 2)) if card else 0)
        for _ in range(counts[-1]):
            lure = _lure(card, scatter, ground)
            at = (left + scatter.randint(-8, 8), top + TALL // 2 - 150 + scatter.randint(-10, 10))
            shade = Image.new("RGBA", lure.size, (30, 30, 30, 0))
            shade.putalpha(lure.getchannel("A").point(lambda a: a // 4).filter(ImageFilter.GaussianBlur(5)))
            flat.paste(shade, (at[0] + 5, at[1] + 6), shade)
            flat.paste(lure, at, lure)
        if scatter.random() < 0.15:
            gleam = Image.new("L", flat.size)
            x, y = left + scatter.randint(30, WIDE - 60), top + scatter.randint(20, TALL - 40)
            ImageDraw.Draw(gleam).ellipse((x, y, x + 50, y + 18), fill=110)
            flat.paste((255, 255, 255), mask=gleam.filter(ImageFilter.GaussianBlur(9)))
    draw.rectangle((20, 20, 100, 70), fill=(222, 222, 222))
    draw.rectangle((margin + WIDE // 2, margin - 24, margin + WIDE // 2 + 150, margin - 2), fill=(236, 232, 214))
    grid = [
        (margin, margin),
        (size[0] - margin, margin),
        (size[0] - margin, size[1] - margin),
        (margin, size[1] - margin),
    ]
    moved = [(x + scatter.uniform(-30, 30), y + scatter.uniform(-24, 24)) for x, y in grid]
    back = perspective(moved, grid)
    image = flat.transform(size, Image.Transform.PERSPECTIVE, back, Image.Resampling.BICUBIC, fillcolor=(70, 48, 30))
    forth = perspective(grid, moved)
    below = forth[6] * 60 + forth[7] * 45 + 1
    white = ((forth[0] * 60 + forth[1] * 45 + forth[2]) / below, (forth[3] * 60 + forth[4] * 45 + forth[5]) / below)
    return _shot(image, scatter, (1.0, 0.96, 0.86)), moved, white, counts


def towel(cards, seed):
    """Loose lures on a plain towel, three in a row."""
    scatter = random.Random(seed)
    cloth = scatter.choice([(92, 112, 140), (176, 172, 166), (120, 92, 96)])
    rows = -(-len(cards) // 3)
    flat = Image.new("RGB", (3 * 340 + 80, rows * 230 + 80), cloth)
    centres = []
    for place, card in enumerate(cards):
        lure = _lure(card, scatter, cloth)
        x, y = 60 + place % 3 * 340 + scatter.randint(0, 30), 20 + place // 3 * 230 + scatter.randint(0, 20)
        flat.paste(lure, (x, y), lure)
        centres.append((x + 150, y + 150))
    return _shot(flat, scatter, (1.0, 0.97, 0.9)), centres
