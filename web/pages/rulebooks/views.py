"""House rules: the angler's own calls on top of the schools."""

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.core.paginator import Paginator
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.http import urlencode
from django.views.decorators.http import require_POST

from tackle.base.errors import InvalidInput
from tackle.base.units import read_length_in
from tackle.base.vocabulary import CATEGORIES, Grade
from web.common.accounts.request import OwnRequest
from web.domain.colours.selectors import get_palette
from web.domain.plans.selectors import get_basis
from web.domain.rulebooks import selectors, services
from web.pages.colours.ask import read_question
from web.pages.rulebooks.reading import apart, read_school

PAGE = 50  # calls of a school at once


def rules(request: OwnRequest) -> HttpResponse:
    """The schools, each with the angler's own rules on it."""
    books = selectors.list_rulebooks(request.user)
    rows = list(selectors.list_rules(request.user))
    schools = [(book, [rule for rule in rows if rule.school == book.id]) for book in books.values()]
    aside = selectors.set_aside(rows)
    context = {"schools": schools, "aside": aside, "count": sum(rule.on and rule.pk not in aside for rule in rows)}
    return render(request, "schools/rules.html", context)


def read(request: OwnRequest, school: str) -> HttpResponse:
    """One school as it is read: its calls for a category, and the days each decides on the reader's waters."""
    return _read(request, school)


@require_POST
def change(request: OwnRequest, school: str, call: str) -> HttpResponse:
    """A call as the reader would have it."""
    data = request.POST
    try:
        sight = {
            name: read_length_in(text, request.user.units, label)
            for name, label in (("from", "seen from"), ("below", "seen below"))
            if (text := data.get(name, "").strip())
        }
        services.change_call(
            request.user, school, call, data.get("grade", ""), sight, data.getlist("tone"), data.get("why", "")[:400],
            data.get("how") == "beside",
        )  # fmt: skip
    except (InvalidInput, ValidationError) as error:
        return _read(request, school, call, str(error) if isinstance(error, InvalidInput) else " ".join(error.messages))
    messages.success(request, "It is one of your rules now, and outranks the rulebook.")
    return _to_reading(request, school)


@require_POST
def off(request: OwnRequest, school: str, call: str) -> HttpResponse:
    try:
        services.switch_off(request.user, school, call)
        messages.success(request, f"{call} is not heard any more. It can be switched on again here.")
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
    return _to_reading(request, school)


def _to_reading(request: OwnRequest, school: str) -> HttpResponse:
    return redirect(reverse("school-read", args=[school]) + "?" + urlencode({"category": _category(request)}))


def _category(request: OwnRequest) -> str:
    asked = request.POST.get("category") or request.GET.get("category", "")
    return asked if asked in CATEGORIES else ""


def _read(request: OwnRequest, school: str, wrong_at: str = "", wrong: str = "") -> HttpResponse:
    basis = get_basis(request.user)
    book = basis.every_book.get(school)
    if book is None:
        raise Http404
    category = _category(request) or (basis.categories or ["worm"])[0]
    words = request.GET.get("q", "")[:60]
    data = {
        **{name: request.POST.get(name, "") for name in ("grade", "from", "below", "why")},
        "tones": request.POST.getlist("tone"),
    }
    calls = read_school(basis, book, category, words, request.user.units, {wrong_at: data} if wrong_at else {})
    at = next((index // PAGE + 1 for index, one in enumerate(calls) if one.call.written == wrong_at), None)
    context = {
        "book": book,
        "books": basis.every_book.values(),
        "category": category,
        "categories": [each for each in CATEGORIES if any(each in call.categories for call in book.calls)],
        "words": words,
        "page": Paginator(calls, PAGE).get_page(at or request.GET.get("page")),
        "apart": apart(basis, category),
        "rules": [
            rule for rule in selectors.list_rules(request.user) if rule.school == school and rule.entry.get("off")
        ],
        "tones": sorted({card.tone for card in basis.palette.sold_in(category)}),
        "grades": list(Grade),
        "query": urlencode({"category": category, "q": words}),
        "wrong_at": wrong_at,
        "wrong": wrong,
    }
    return render(request, "schools/read.html", context, status=422 if wrong else 200)


@require_POST
def make(request: OwnRequest) -> HttpResponse:
    """A rule from the situation that Ask shows."""
    try:
        situation = read_question(request.POST, request.user.units)
        card = get_palette(request.user).card(request.POST.get("card", ""), "colour", situation.category)
        rule = services.make_rule(
            request.user,
            request.POST.get("school", ""),
            situation,
            card,
            request.POST.get("grade", ""),
            request.POST.get("why", "")[:300],
        )
    except (InvalidInput, ValidationError) as error:
        words = str(error) if isinstance(error, InvalidInput) else " ".join(error.messages)
        return render(request, "schools/made.html", {"wrong": words}, status=422)
    book = selectors.list_rulebooks(request.user)[rule.school]
    return render(request, "schools/made.html", {"rule": rule, "card": card, "book": book})


@require_POST
def switch(request: OwnRequest, pk: int) -> HttpResponse:
    return render(
        request, "schools/rule.html", {"rule": services.switch_rule(request.user, pk, request.POST.get("to") == "on")}
    )


@require_POST
def delete(request: OwnRequest, pk: int) -> HttpResponse:
    messages.success(request, services.delete_rule(request.user, pk))
    return redirect("rules")


@require_POST
def take_in(request: OwnRequest) -> HttpResponse:
    """A rulebook file, from the angler or a club."""
    file = request.FILES.get("file")
    if file is None:
        messages.error(request, "Choose a rulebook file first.")
        return redirect("rules")
    try:
        if (file.size or 0) > services.MAX_FILE_BYTES:
            raise ValidationError(f"{file.name} is larger than {services.MAX_FILE_BYTES:,} bytes.")
        count = services.import_rulebook(request.user, file.name or "", file.read())
        messages.success(request, f"{count} rules from {file.name} are in.")
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
    return redirect("rules")


def export(request: OwnRequest, school: str) -> HttpResponse:
    try:
        text = services.export_rulebook(request.user, school)
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
        return redirect("rules")
    return HttpResponse(
        text,
        content_type="application/toml; charset=utf-8",
        headers={"Content-Disposition": f'attachment; filename="{school}-house-rules.toml"'},
    )
