"""The Crate step."""

from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST
from django_htmx.http import reswap, retarget

from tackle.crate.audit import audit
from tackle.crate.reach import Planned
from web.colours.reads import palette_of
from web.crate import board, changes, reads
from web.crate.forms import LureForm, TrayForm, card_choices, initial_of
from web.crate.models import Change, Lure
from web.plans.reads import answers, basis_of


def crate(request: HttpRequest) -> HttpResponse:
    return _page(request)


def add(request: HttpRequest) -> HttpResponse:
    """The form for a new lure; posted, the crate with it in."""
    if not reads.trays_of(request.user).exists():
        return render(request, "crate/tray_form.html", {"form": TrayForm()})
    wanted = {name: request.GET[name] for name in ("category", "card", "count", "tray") if name in request.GET}
    return _lure_form(request, Lure(), wanted)


def edit(request: HttpRequest, pk: int) -> HttpResponse:
    """The form for a lure, in the place of its compartment; posted, the crate with it changed."""
    lure = reads.lure_of(request.user, pk)
    return _lure_form(request, lure, initial_of(lure, request.user))


def _lure_form(request: HttpRequest, lure: Lure, initial: dict[str, object]) -> HttpResponse:
    known = lure if lure.pk else None
    palette = palette_of(request.user)
    form = LureForm(request.user, palette, known, request.POST or None, initial=initial)
    if request.method == "POST" and form.is_valid():
        try:
            return _page(request, changes.keep_lure(request.user, lure, **form.values()))
        except ValidationError as error:
            form.add_error(None, error)
    card = palette.by_id.get(str(form["card"].value() or form.fields["card"].choices[0][0]))
    context = {"form": form, "lure": known, "card": card}
    response = render(request, "crate/lure_form.html", context, status=422 if form.errors else 200)
    return reswap(retarget(response, "#lure-form"), "outerHTML") if form.errors else response


def colours(request: HttpRequest) -> HttpResponse:
    """The colours of a category, for the form; and the stick of the one chosen."""
    category = request.GET.get("category", "")
    palette = palette_of(request.user)
    choices = card_choices(palette, category) if category in dict(Lure._meta.get_field("category").choices) else []
    chosen = request.GET.get("card", "")
    if chosen not in dict(choices):
        chosen = choices[0][0] if choices else ""
    context = {"choices": choices, "chosen": chosen, "card": palette.by_id.get(chosen)}
    return render(request, "crate/colour_choice.html", context)


@require_POST
def delete(request: HttpRequest, pk: int) -> HttpResponse:
    return _page(request, changes.delete_lure(request.user, pk))


@require_POST
def undo(request: HttpRequest, pk: int) -> HttpResponse:
    try:
        return _page(request, words=changes.undo(request.user, pk))
    except ValidationError as error:
        return _page(request, words=" ".join(error.messages))


def tray(request: HttpRequest) -> HttpResponse:
    """The form for a new tray; posted, the crate with it in."""
    form = TrayForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        try:
            made = changes.make_tray(request.user, **form.cleaned_data)
            return _page(request, words=f"Tray {made.letter} is there.")
        except ValidationError as error:
            form.add_error(None, error)
    response = render(request, "crate/tray_form.html", {"form": form}, status=422 if form.errors else 200)
    return reswap(retarget(response, "#lure-form"), "outerHTML") if form.errors else response


@require_POST
def same_within(request: HttpRequest) -> HttpResponse:
    try:
        changes.set_same_within(request.user, request.POST.get("same_within", ""))
    except ValidationError as error:
        return _page(request, wrong=" ".join(error.messages))
    return _page(request)


def _page(request: HttpRequest, change: Change | None = None, words: str = "", wrong: str = "") -> HttpResponse:
    trays = list(reads.trays_of(request.user))
    basis = basis_of(request.user)
    planned = [Planned(a.request, a.answer) for a in answers(basis)]
    lures = reads.core_lures(trays, basis.palette)
    found = audit(lures, planned, basis.palette, request.user.same_within)
    context = {
        "drawn": board.draw(trays, found, planned, basis.palette),
        "found": found,
        "called": reads.refs(trays),
        "lures": sum(lure.count for lure in lures),
        "colours": len({lure.card for lure in lures}),
        "plan": basis.plan,
        "waters": {expected.water.name for expected in basis.days.kept},
        "change": change,
        "words": words,
        "wrong": wrong,
    }
    template = "crate/answer.html" if request.htmx else "crate/crate.html"
    return render(request, template, context, status=422 if wrong else 200)
