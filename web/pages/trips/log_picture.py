"""A day's log as it is drawn: the sky on top, a line for each rod, turns as bars, bites as marks."""

from collections.abc import Iterable
from dataclasses import dataclass

from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.day.forecast import Sky
from tackle.day.log import HOOKED
from web.domain.trips.models import MOST_HOURS, Trip, Turn

LEFT, WIDTH, TOP, LINE, LEAST = 34.0, 900.0, 46.0, 44.0, 4.0
LEAST_HOURS = 2


@dataclass(frozen=True, slots=True)
class Bar:
    """One turn: where its bar is, its card, and its bites, each by where its mark is and how it was hooked."""

    turn: Turn
    card: Colour
    x: float
    y: float
    width: float
    marks: list[tuple[float, str]]

    @property
    def said(self) -> str:
        """The turn in words, for those who do not see the bar."""
        came = [f"{getattr(self.turn, how)} {how}" for how in HOOKED if getattr(self.turn, how)]
        minutes = "minutes not known" if self.turn.minutes is None else f"{self.turn.minutes:.0f} minutes"
        return f"{self.card.name}, {minutes}: {', '.join(came) or 'nothing'}"


@dataclass(frozen=True, slots=True)
class LogPicture:
    """The drawing: hours with their sky, each rod's name and height, the bars; what tells no time is left out."""

    width: float
    height: float
    hours: list[tuple[float, float, int, str]]  # x, width, hour, light
    rods: list[tuple[float, str]]
    bars: list[Bar]
    untimed: int


def draw_log(trip: Trip, turns: Iterable[Turn], skies: Iterable[Sky], palette: Palette) -> LogPicture:
    """The picture of a trip's turns."""
    listed = list(turns)
    timed = [turn for turn in listed if turn.at is not None and abs(turn.at) < MOST_HOURS * 60]
    lights = {sky.hour: sky.light for sky in skies}
    first = min((int((turn.at or 0) // 60) for turn in timed), default=trip.first_hour)
    last = max((int(((turn.at or 0) + (turn.minutes or 0)) // 60) + 1 for turn in timed), default=trip.last_hour + 1)
    last = max(last, first + LEAST_HOURS)
    scale = (WIDTH - LEFT) / ((last - first) * 60)
    rods = sorted({(turn.device, turn.angler) for turn in timed})
    bars = []
    for turn in timed:
        x = LEFT + ((turn.at or 0) - first * 60) * scale
        y = TOP + rods.index((turn.device, turn.angler)) * LINE
        width = max((turn.minutes or 0) * scale, LEAST)
        came = [how for how in HOOKED for _ in range(min(getattr(turn, how), 9))]
        marks = [(round(x + (place + 1) * width / (len(came) + 1), 1), how) for place, how in enumerate(came)]
        bars.append(Bar(turn, palette.known(turn.card), round(x, 1), y, round(width, 1), marks))
    hours = [
        (round(LEFT + (hour - first) * 60 * scale, 1), round(60 * scale, 1), hour, lights.get(hour, ""))
        for hour in range(first, last)
    ]
    named = [(TOP + index * LINE, str(index + 1)) for index in range(len(rods))]
    return LogPicture(WIDTH, TOP + max(len(rods), 1) * LINE + 6, hours, named, bars, len(listed) - len(timed))
