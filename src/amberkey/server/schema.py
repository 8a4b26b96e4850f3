"""What the API takes and answers is made of this."""

from django.http import HttpResponse
from pydantic import BaseModel


class Schema(BaseModel):
    """Pydantic's own model. Ninja's wraps every value for the sake of ORM rows, which costs more than working the answer out;
    here answers are built by hand from computed values."""


def as_json(answer: Schema) -> HttpResponse:
    """A long answer as it goes out, without the way over Python values that Ninja would take."""
    return HttpResponse(answer.model_dump_json(), content_type="application/json")
