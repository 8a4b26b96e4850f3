"""What the API takes and answers is made of this."""

from pydantic import BaseModel


class Schema(BaseModel):
    """Pydantic's own model. Ninja's wraps every value for the sake of ORM rows, which costs more than working the answer out;
    here answers are built by hand from computed values."""
