"""The Crate step: the trays, what is in them, and what the check says."""

from collections.abc import Callable, Mapping
from datetime import date
from typing import Any
from urllib.parse import urlencode

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.core.paginator import Paginator
from django.forms import BaseForm
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST
from django_htmx.http import reswap, retarget

from tackle.base.numbers import read_whole
from tackle.base.vocabulary import CATEGORIES
from tackle.intake.sheet_rows import CONDITIONS
from web.common.accounts.bodies import render_body
from web.common.accounts.request import OwnRequest
from web.common.serving.bounds import takes
from web.common.ui.keys import LARGEST_KEY
from web.common.ui.messages import no_notice
from web.domain.colours.selectors import get_palette
from web.domain.crate import selectors, services
from web.domain.crate.models import Lure
from web.domain.crate.pictures import MOST_BYTES as PICTURE_BYTES
from web.domain.crate.pictures import taken_in
from web.domain.history.kinds import LURE, TRAY
from web.domain.history.models import Change
from web.domain.history.record import list_history
from web.domain.history.shown import add_errors, read_shown, show
from web.domain.plans.selectors import get_basis, get_owned
from web.pages.check import bench as workbench
from web.pages.check.check import check
from web.pages.crate import findings, tray_view
from web.pages.crate.forms import LureForm, TrayForm, card_choices, initial_values

MOST_SHOWN, MOST_ALL = 12, 500  # findings of one kind on the page


def crate(request: OwnRequest) -> HttpResponse:
    return _page(request)


@takes(PICTURE_BYTES)
def add(request: OwnRequest) -> HttpResponse:
    """The form for a new lure; posted, the crate with it in."""
    if not selectors.list_trays_with_places(request.user).exists():
        return render(request, "crate/tray_form.html", {"form": TrayForm()})
    wanted = {name: request.GET[name] for name in ("category", "card", "count", "tray") if name in request.GET}
    return _lure_form(request, None, wanted)


@takes(PICTURE_BYTES)
def edit(request: OwnRequest, pk: int) -> HttpResponse:
    """The form for a lure, in the place of its compartment; posted, the crate with it changed."""
    lure = selectors.get_lure(request.user, pk)
    return _lure_form(request, lure, initial_values(lure, request.user))


def _lure_form(request: OwnRequest, known: Lure | None, initial: Mapping[str, object]) -> HttpResponse:
    palette = get_palette(request.user)
    form = LureForm(request.user, palette, known, request.POST or None, request.FILES or None, initial=initial)
    wrong = 422 if form.errors else 200
    if request.method == "POST" and form.is_valid():
        try:
            values = form.values()
            if photo := form.cleaned_data["photo"]:
                values["picture"] = services.keep_picture(request.user, *taken_in(photo))
            if known:
                shown = read_shown(request.POST.get("shown", ""))
                return _page(request, services.edit_lure(request.user, known.pk, shown, **values))
            return _page(request, services.add_lure(request.user, **values))
        except ValidationError as error:
            wrong = add_errors(form, error)
    card = palette.known(str(form["card"].value() or form.first_card))
    context: dict[str, Any] = {"form": form, "lure": known, "card": card}
    if known:
        context["shown"] = show(LURE, known.pk)
        context["trays"] = selectors.list_trays_with_places(request.user)
        same = selectors.list_lures(request.user).filter(category=known.category, card=known.card).exclude(pk=known.pk)
        context["same"] = same[:8]
    return _again(render(request, "crate/lure_form.html", context, status=wrong), form)


def _again(response: HttpResponse, form: BaseForm) -> HttpResponse:
    """A form as it was opened; or, with what is wrong in it, in the place of the one that was sent."""
    return reswap(retarget(response, "#lure-form"), "outerHTML") if form.errors else response


def colours(request: OwnRequest) -> HttpResponse:
    """The colours of a category, for the form; and the stick of the one chosen."""
    category = request.GET.get("category", "")
    palette = get_palette(request.user)
    choices = card_choices(palette, category) if category in CATEGORIES else []
    chosen = request.GET.get("card", "")
    if chosen not in dict(choices):
        chosen = choices[0][0] if choices else ""
    context = {"choices": choices, "chosen": chosen, "card": palette.by_id.get(chosen)}
    return render(request, "crate/colour_choice.html", context)


@require_POST
def delete(request: OwnRequest, pk: int) -> HttpResponse:
    return _page(request, services.delete_lure(request.user, pk))


@require_POST
def undo(request: OwnRequest, pk: int) -> HttpResponse:
    """Takes a change back; from the history, the history again."""
    failed, source = False, request.POST.get("from")
    try:
        words = f"Undone: {services.take_back(request.user, pk).words}"
    except ValidationError as error:
        words, failed = f"That cannot be taken back. {' '.join(error.messages)}", True
    if source == "history":
        (messages.error if failed else messages.success)(request, words)
        return redirect("crate-history")
    if source == "entering":
        response = render(
            request, "crate/undone.html", {"words": words, "failed": failed}, status=422 if failed else 200
        )
        return reswap(response, "beforeend") if failed else response
    if source == "bench":
        return workbench.page(request, wrong=words if failed else "", words=words)
    return _page(request, words=words, failed=failed)


def tray(request: OwnRequest, pk: int | None = None) -> HttpResponse:
    """The form for a new tray, or for one that is there; posted, the crate with it in."""
    known = selectors.get_tray(request.user, pk) if pk else None
    form = TrayForm(request.POST or None, instance=known)
    wrong = 422 if form.errors else 200
    if request.method == "POST" and form.is_valid():
        try:
            if known:
                shown = read_shown(request.POST.get("shown", ""))
                return _page(request, services.edit_tray(request.user, known.pk, shown, **form.told()))
            return _page(request, services.make_tray(request.user, **form.told()))
        except ValidationError as error:
            wrong = add_errors(form, error)
    context = {"form": form, "tray": known, "shown": show(TRAY, known.pk) if known else ""}
    return _again(render(request, "crate/tray_form.html", context, status=wrong), form)


@require_POST
def delete_tray(request: OwnRequest, pk: int) -> HttpResponse:
    return _done(request, lambda: services.delete_tray(request.user, pk))


@require_POST
def move(request: OwnRequest, pk: int) -> HttpResponse:
    """Moves a lure into a tray, before another where one is named."""
    tray, before = _number(request, "tray"), _number(request, "before") or None
    return _done(request, lambda: services.move_lure(request.user, pk, tray, before))


@require_POST
def split(request: OwnRequest, pk: int) -> HttpResponse:
    count, tray = _number(request, "count"), _number(request, "tray")
    return _done(request, lambda: services.split_lure(request.user, pk, count, tray))


@require_POST
def merge(request: OwnRequest, pk: int) -> HttpResponse:
    return _done(request, lambda: services.merge_lures(request.user, pk, _number(request, "into")))


@require_POST
def bring(request: OwnRequest) -> HttpResponse:
    """Brings stock from home."""
    category, card = request.POST.get("category", ""), request.POST.get("card", "")
    return _done(request, lambda: services.bring(request.user, [(category, card, _number(request, "count"))]))


@require_POST
def several(request: OwnRequest) -> HttpResponse:
    """One thing done to the lures that were chosen."""
    keys = [read_whole(one, 1, LARGEST_KEY) or 0 for one in request.POST.getlist("lure")[:MOST_ALL]]
    what = request.POST.get("what", "")
    return _done(request, lambda: services.change_several(request.user, keys, what, request.POST.get(what, "")))


def sorted_trays(request: OwnRequest) -> HttpResponse:
    """What lies aboard as it would be sorted into trays; posted, sorted so."""
    if request.method == "POST":
        try:
            done = services.sort_trays(request.user)
            messages.success(request, f"{done.words} Drag what shall lie elsewhere; the history can undo it.")
        except ValidationError as error:
            messages.error(request, " ".join(error.messages))
        return redirect("crate")
    proposed = [(tray, services.tray_name(one), one) for tray, one in services.trays_proposed(request.user)]
    return render(request, "crate/sorted.html", {"proposed": proposed})


@require_POST
def thing(request: OwnRequest, pk: int) -> HttpResponse:
    """How many there are of a thing without colour, how many there shall be, and where."""
    count, par, tray = _number(request, "count"), _number(request, "par"), _number(request, "tray")
    return _done(request, lambda: services.set_thing(request.user, pk, count, par, tray))


@require_POST
def mark(request: OwnRequest) -> HttpResponse:
    """A finding is done, put off, or dismissed with a reason; or none of that any longer."""
    data = {name: request.POST.get(name, "") for name in ("finding", "words", "state", "reason")}

    def change() -> str:
        services.mark_finding(request.user, **data)
        said = {"done": "Done.", "later": "Put off for a month.", "no": "Dismissed."}
        return said.get(data["state"], "It counts again.")

    return _done(request, change)


def history(request: OwnRequest) -> HttpResponse:
    """What was changed, newest first."""
    pages = Paginator(list_history(request.user, services.AREA), 50)
    return render(request, "crate/history.html", {"page": pages.get_page(request.GET.get("page"))})


@require_POST
def same_forms(request: OwnRequest) -> HttpResponse:
    """Whether another size, weight or depth of a colour counts as the same thing."""
    services.set_any_form(request.user, "any_form" in request.POST)
    return _page(request)


def _number(request: OwnRequest, name: str) -> int:
    return read_whole(request.POST.get(name, ""), 0, LARGEST_KEY) or 0


def _done(request: OwnRequest, change: Callable[[], Change | str]) -> HttpResponse:
    """The crate after a change, or with what is wrong with it."""
    try:
        done = change()
    except ValidationError as error:
        return _page(request, words=" ".join(error.messages), failed=True)
    return _page(request, done) if isinstance(done, Change) else _page(request, words=done)


def _page(
    request: OwnRequest, change: Change | None = None, words: str = "", wrong: str = "", failed: bool = False
) -> HttpResponse:
    if request.method == "GET":
        body = render_body(request, "crate/body.html", lambda: _context(request))
        if request.htmx:
            return HttpResponse(body + no_notice())
        return render(request, "crate/crate.html", {"body": body})
    context = {**_context(request), "change": change, "words": words, "wrong": wrong}
    checked = context["check"]
    services.note_score(request.user, date.today(), checked.answered, checked.expected)
    template = "crate/answer.html" if request.htmx else "crate/crate.html"
    return render(request, template, context, status=422 if wrong or failed else 200)


def _context(request: OwnRequest) -> dict[str, Any]:
    owner = request.user
    basis, owned = get_basis(owner), get_owned(owner)
    stock, shelf = owned.stock, owned.shelf
    checked = check(owner, basis, stock)
    sought = {name: request.GET.get(name, "") for name in ("q", "category", "place", "tray")}
    if any(sought.values()):
        found = selectors.found_lures(owner, basis.palette, sought["q"], *list(sought.values())[1:])
        keys = set(found.values_list("pk", flat=True))
        shelf = tuple(one for one in shelf if int(one.lure.ref) in keys)
    trays = list(selectors.list_trays_with_places(owner))
    called = selectors.lure_codes(stock)
    page = Paginator(shelf, selectors.PAGE)
    shown = page.get_page(request.GET.get("page"))
    whole = not any(sought.values()) and page.num_pages == 1
    homes = selectors.list_homes(stock, trays)
    first = next((tray for tray in trays if not tray.at_home), None)
    homes = {gap.of.category: homes.get(gap.of.category, first) for gap in checked.gaps if first}
    with_gaps = list(homes.values())
    in_view = trays if whole else with_gaps * (not any(sought.values()))
    most = MOST_ALL if request.GET.get("findings") == "all" else MOST_SHOWN
    return {
        "drawn": tray_view.draw(
            list(shown), {tray.letter: tray for tray in trays}, in_view, called, checked, stock, homes
        ),
        "findings": findings.listed(checked, most),
        "called": called,
        "units": owner.units,
        "check": checked,
        "lures": sum(one.lure.count for one in stock),
        "colours": len({one.lure.card.id for one in stock}),
        "plan": basis.plan,
        "waters": sorted({water.name for water, _ in basis.days.kept.by_water()}),
        "trays": trays,
        "things": [] if any(sought.values()) else selectors.list_things(owner),
        "conditions": CONDITIONS,
        "places": selectors.list_places(owner),
        "categories": sorted({one.lure.category for one in stock}),
        "sought": sought,
        "hidden_findings": checked.beyond(most),
        "shown": shown,
        "query": urlencode({name: value for name, value in sought.items() if value}),
    }  # fmt: skip
