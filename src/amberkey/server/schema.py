"""What the API takes and answers is made of this."""

from typing import Annotated, Any

from django.http import HttpResponse
from pydantic import BaseModel, Field

from amberkey.core.documents.field import Text
from amberkey.core.documents.model import Whole

Name = Text
"""What people give a name or title to."""
Number = Annotated[int, Field(ge=1, le=2**63 - 1)]
"""The number of a row of the database."""
Reason = Annotated[str, Field(max_length=600)]
Words = Annotated[str, Field(max_length=400)]
"""What somebody looks for, or writes in a line."""
_Value = Annotated[str, Field(max_length=200)] | Whole
Values = Annotated[dict[Annotated[str, Field(max_length=80)], _Value], Field(max_length=12)]
"""What a template gets along with a press: values by the names of its arguments."""
Told = Annotated[str, Field(max_length=4000)]
"""What a program says, an agent for instance; kept cut to what a line holds."""


class Schema(BaseModel):
    """Pydantic's own model. Ninja's wraps every value for the sake of ORM rows, which costs more than working the answer out;
    here answers are built by hand from computed values."""


class NamedOut(Schema):
    id: str
    name: str


class FaultOut(Schema):
    place: str
    says: str
    cure: str


class ContradictedOut(Schema):
    """An item that two people made something else of: as it was, as each made it (null: not there), and that in words."""

    section: str
    key: str
    base: Any
    ours: Any
    theirs: Any
    says_ours: str
    says_theirs: str


class ProblemOut(Schema):
    """A refusal (RFC 9457): what happened, what is safe, what to do. Who was faster (`by`, `at`, `changes`) or where a text is
    wrong (`text`, `span`, `guess`) is there where it is known."""

    title: str
    status: int
    detail: str
    cure: str
    safe: str
    text: str | None = None
    span: tuple[int, int] | None = None
    guess: str | None = None
    by: str | None = None
    at: str | None = None
    changes: list[str] | None = None
    faults: list[FaultOut] | None = None
    contradictions: list[ContradictedOut] | None = None


def as_json(answer: Schema) -> HttpResponse:
    """A long answer as it goes out, without the way over Python values that Ninja would take."""
    return HttpResponse(answer.model_dump_json(), content_type="application/json")
