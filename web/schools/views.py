"""House rules: the angler's own calls on top of the schools."""

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from tackle.errors import Refused
from web.colours.ask import read_question
from web.colours.reads import palette_of
from web.schools import changes, reads


def rules(request: HttpRequest) -> HttpResponse:
    """The schools, each with the angler's own rules on it."""
    books = reads.books_of(request.user)
    rows = list(reads.rules_of(request.user))
    schools = [(book, [rule for rule in rows if rule.school == book.id]) for book in books.values()]
    aside = reads.set_aside(rows)
    context = {"schools": schools, "aside": aside, "count": sum(rule.on and rule.pk not in aside for rule in rows)}
    return render(request, "schools/rules.html", context)


@require_POST
def make(request: HttpRequest) -> HttpResponse:
    """A rule from the situation that Ask shows."""
    try:
        situation = read_question(request.POST, request.user.units)
        card = palette_of(request.user).card(request.POST.get("card", ""), "colour", situation.category)
        rule = changes.make_rule(
            request.user,
            request.POST.get("school", ""),
            situation,
            card,
            request.POST.get("grade", ""),
            request.POST.get("why", "")[:300],
        )
    except (Refused, ValidationError) as error:
        words = str(error) if isinstance(error, Refused) else " ".join(error.messages)
        return render(request, "schools/made.html", {"wrong": words}, status=422)
    return render(request, "schools/made.html", {"rule": rule, "card": card})


@require_POST
def switch(request: HttpRequest, pk: int) -> HttpResponse:
    return render(request, "schools/rule.html", {"rule": changes.switch_rule(request.user, pk)})


@require_POST
def delete(request: HttpRequest, pk: int) -> HttpResponse:
    messages.success(request, changes.delete_rule(request.user, pk))
    return redirect("rules")


@require_POST
def take_in(request: HttpRequest) -> HttpResponse:
    """A rulebook file, from the angler or a club."""
    file = request.FILES.get("file")
    if file is None:
        messages.error(request, "Choose a rulebook file first.")
        return redirect("rules")
    try:
        if file.size > changes.MAX_FILE_BYTES:
            raise ValidationError(f"{file.name} is larger than {changes.MAX_FILE_BYTES:,} bytes.")
        count = changes.import_rulebook(request.user, file.name, file.read())
        messages.success(request, f"{count} rules from {file.name} are in.")
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
    return redirect("rules")


def export(request: HttpRequest, school: str) -> HttpResponse:
    try:
        text = changes.export_rulebook(request.user, school)
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
        return redirect("rules")
    return HttpResponse(
        text,
        content_type="application/toml; charset=utf-8",
        headers={"Content-Disposition": f'attachment; filename="{school}-house-rules.toml"'},
    )
