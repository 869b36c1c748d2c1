"""Typing lures in, one line each: the guess while typing, and the lure once it is entered."""

from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from tackle.intake.line import Guess, read_line
from web.accounts.models import User
from web.colours.reads import palette_of
from web.crate import changes, reads
from web.ui.words import label

MOST_LINE = 120


def enter(request: HttpRequest) -> HttpResponse:
    """The page to type on; posted, one lure goes in."""
    trays = list(reads.bare_trays_of(request.user))
    if not trays:
        return redirect("crate")
    if request.method != "POST":
        context = {"trays": trays, "tray": 0}
        return render(request, "crate/enter.html", context)
    line = request.POST.get("line", "")[:MOST_LINE]
    guess = _guess(request.user, line)
    chosen = next((one for one in trays if str(one.pk) == request.POST.get("tray")), None)
    lives = {} if chosen else reads.homes_of(reads.stock_of(request.user, palette_of(request.user)), trays)
    tray = chosen or lives.get(guess.category or "") or trays[0]
    wrong, change, card = "", None, None
    try:
        card, change = _enter(request, line, guess, tray)
    except ValidationError as error:
        wrong = " ".join(error.messages)
    context = {
        "trays": trays,
        "tray": chosen.pk if chosen else 0,
        "guess": guess,
        "line": line if wrong else "",
        "wrong": wrong,
    }
    context |= {"change": change, "card": card, "where": tray}
    return render(request, "crate/entered.html", context, status=422 if wrong else 200)


def _enter(request: HttpRequest, line: str, guess: Guess, tray: reads.Tray) -> tuple[object, object]:
    owner, palette = request.user, palette_of(request.user)
    if guess.category is None:
        raise ValidationError("What is it? Name a category: worm, jig, jerkbait, popper …")
    # Offers come a moment after the typing: a colour chosen for another line than this is none.
    told = palette.by_id.get(request.POST.get("card", "")) if request.POST.get("guessed") == line else None
    chosen = told or guess.sure
    if chosen is None and guess.offers:
        raise ValidationError(f"Which colour is “{guess.colour}”? Arrow keys choose, Enter takes it; it is remembered.")
    if chosen is None or guess.category not in chosen.sold_in:
        raise ValidationError(f"No colour of a {label(guess.category).lower()} is near “{guess.colour}”.")
    change = changes.add_lure(
        owner,
        tray=tray,
        category=guess.category,
        card=chosen.id,
        count=guess.count,
        size_in=guess.size_in,
        weight_oz=guess.weight_oz,
        depth_ft=guess.depth_ft,
        sound=guess.sound,
        name=guess.colour[:80],
    )
    if chosen is not guess.sure:
        changes.remember_name(owner, guess.category, guess.colour, chosen.id)
    return chosen, change


def guess(request: HttpRequest) -> HttpResponse:
    """What a line seems to say so far."""
    line = request.GET.get("line", "")[:MOST_LINE]
    context = {"guess": _guess(request.user, line) if line.strip() else None, "line": line}
    return render(request, "crate/guess.html", context)


def _guess(owner: User, line: str) -> Guess:
    return read_line(line, palette_of(owner), owner.units, reads.printed_names(owner))
