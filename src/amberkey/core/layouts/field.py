"""Layouts and bodies as fields of documents: an unknown one is refused where it stands."""

from typing import Annotated

from pydantic import AfterValidator, Field

from amberkey.core.layouts.bodies import load_body
from amberkey.core.layouts.errors import UnknownBody, UnknownLayout
from amberkey.core.layouts.layout import platforms_of


def _known_layout(layout_id: str) -> str:
    try:
        platforms_of(layout_id)
    except UnknownLayout as error:
        raise ValueError(str(error)) from error
    return layout_id


def _known_body(body_id: str) -> str:
    try:
        load_body(body_id)
    except UnknownBody as error:
        raise ValueError(str(error)) from error
    return body_id


AnyName = Annotated[str, Field(max_length=40)]
"""The name of a layout or body that is looked for elsewhere: where many machines name one, all are told of together."""

LayoutId = Annotated[AnyName, AfterValidator(_known_layout)]
BodyId = Annotated[AnyName, AfterValidator(_known_body)]
