"""What a kept plan may hold: checked before one is kept, copied or taken out of an archive; no page breaks on it.

Plans that older versions kept tell less: what may be missing has a default here.
"""

from typing import Annotated, Any

from django.core.exceptions import ValidationError
from pydantic import BaseModel, ConfigDict, Field, StringConstraints
from pydantic import ValidationError as Malformed

Word = Annotated[str, StringConstraints(max_length=80)]
Text = Annotated[str, StringConstraints(max_length=500)]
Days = Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)]
Share = Annotated[str, StringConstraints(pattern=r"^[01](\.\d{1,4})?$")]
Month = Annotated[int, Field(ge=1, le=12)]


class KeptPart(BaseModel):
    """Read as it is: no text is taken for a number."""

    model_config = ConfigDict(strict=True)


class KeptColour(KeptPart):
    card: Word
    category: Word = ""
    name: Text
    days: Days
    alone: Days = 0.0
    right: Days = 0.0
    owned: bool
    reason: Text = ""


class KeptCategory(KeptPart):
    category: Word
    expected: Days
    answered: Days
    right: Days = 0.0
    colours: list[KeptColour]


class Marks(KeptPart):
    form: int = 1  # marks of one form alone can be held against one another
    waters: dict[Word, Word]
    books: dict[Word, Word]
    palette: Word


class MadeFrom(KeptPart):
    waters: dict[Word, Days]
    schools: list[Word]
    agree: Word
    right: Word = ""
    months: list[Month]
    crate: dict[Word, dict[Word, Annotated[int, Field(ge=0)]]]
    marks: Marks | None = None


class Settled(KeptPart):
    """The settings of the plan; `accept` stood where `right` stands now."""

    schools: list[Word]
    categories: list[Word]
    agree: Annotated[str, StringConstraints(pattern="^(any|all)$")]
    accept: Word | None = None
    right: Share | None = None
    first_month: Month
    last_month: Month
    crossover: bool = False
    travel_most: Annotated[int, Field(ge=0, le=200)] = 8


class KeptChoice(KeptPart):
    lock: list[Word]
    ban: list[Word]
    at_most: Annotated[int, Field(ge=0, le=1000)] | None = None
    right: Share | None = None
    trailers: bool | None = None
    from_f: Annotated[float, Field(ge=0, le=110)] | None = None


class KeptTerms(KeptPart):
    waters: list[Annotated[int, Field(ge=0)]]
    plan: Settled
    choices: dict[Word, KeptChoice]


class Content(KeptPart):
    terms: KeptTerms | None = None
    made_from: MadeFrom
    categories: list[KeptCategory]


def check_content(content: Any) -> None:
    """Raises ValidationError that says which field of a kept plan is not as it has to be."""
    try:
        data = Content.model_validate(content)
    except Malformed as error:
        first = error.errors(include_url=False, include_input=False)[0]
        field = ".".join(map(str, first["loc"])) or "content"
        raise ValidationError(f"The plan cannot be kept: {field}: {first['msg']}.") from error
    if data.terms and data.terms.plan.right is None and data.terms.plan.accept is None:
        raise ValidationError("The plan cannot be kept: terms.plan.right: Field required.")
