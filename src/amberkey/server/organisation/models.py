"""A list that somebody brings in, from the uploaded sheet to the change set that it became."""

from django.db import models

from amberkey.server.library.lists import ListBroughtIn


class ListImport(ListBroughtIn):
    """`heads` are the headings of the sheet and `first` its first rows, once somebody has opened it.

    `matching`: which column is under which heading, by its place.
    """

    kind = models.CharField(max_length=20)
    heads = models.JSONField(default=list)
    first = models.JSONField(default=list)
    matching = models.JSONField(default=dict)

    def __str__(self) -> str:
        return f"{self.kind} from {self.name}: {self.state}"
