"""What a card shall be: for whom, on which paper, in which language, and how much stands on it."""

from typing import Annotated, Literal, get_args

from pydantic import Field, model_validator

from amberkey.core.documents.field import Id, Language
from amberkey.core.documents.model import Flag, Value, Whole
from amberkey.core.keys.platform import Platform
from amberkey.core.layouts.field import LayoutId

Paper = Literal["A4", "A4 across", "A4 folded", "A5", "A5 across"]
"""Folded: across, with the fold in the middle, printed on both sides."""
Whom = Literal["everybody", "role", "department", "person"]
PAPERS: tuple[Paper, ...] = get_args(Paper)


class CardWish(Value):
    """`of`: everybody, those of the role or department `who`, or that one person, on a platform with a layout. `language`: of
    its words; caps are in that of the keyboard.

    Parts, in this order: the `most` keys that are worth most, with a `pace` as weeks of so many new ones each; what has
    `changed` since the last one; what people need in a `hurry`; the `whole` list, by program or by task. `left_out`: lines, by
    their ids, left out on purpose.
    """

    of: Whom = "everybody"
    who: Id | None = None
    platform: Platform
    layout: LayoutId
    language: Language = "en"
    paper: Paper = "A5 across"
    most: Annotated[Whole, Field(ge=0, le=60)] = 8
    pace: Literal[0, 3, 4, 5] = 0
    changed: Flag = True
    hurry: Flag = True
    whole: Literal["", "by program", "by task"] = ""
    left_out: Annotated[tuple[Annotated[str, Field(max_length=200)], ...], Field(max_length=400)] = ()

    @model_validator(mode="after")
    def _somebody(self) -> "CardWish":
        if (self.of == "everybody") != (self.who is None):
            raise ValueError("who: a role, a department or a person is named, and nobody where the card is for everybody")
        return self

    @property
    def audience(self) -> str:
        """For whom it is, in whatever form: by this the last card before it is found."""
        return "/".join((self.of, self.who or "", self.platform, self.layout))
