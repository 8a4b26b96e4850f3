"""`amberkey/tasks@1`: tasks and families."""

from collections.abc import Mapping
from functools import cached_property
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from amberkey.core.documents.field import Id, Language, Text
from amberkey.core.documents.model import Document, Flag, Value
from amberkey.core.keys.field import ShortcutField
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut

Step = Literal["shift", "arrow", "digit", "letter"]


class Task(Value):
    """Something that people want to do. `group` is what it stands among in lists.

    `usual` are the presses that it has everywhere; `protected`: nothing may take them. `names`: what it is called in other
    languages of the organisation's people.
    """

    id: Id
    name: Text
    names: dict[Language, Text] = Field(default_factory=dict)
    other_words: tuple[Text, ...] = ()
    group: Annotated[str, Field(max_length=80)] = ""
    protected: Flag = False
    usual: dict[Platform, tuple[ShortcutField, ...]] = Field(default_factory=dict)

    def usual_on(self, platform: Platform) -> tuple[Shortcut, ...]:
        """The shortcuts that the task usually has on a platform, with that platform's real modifiers."""
        return tuple(s.resolve(platform) for s in self.usual.get(platform, ()))


class Family(Value):
    """Tasks whose shortcuts keep one shape: they differ only by the step.

    `shift`: the second has Shift as well; `arrow`: the mirrored arrow; `digit`: 1, 2, 3 ...; `letter`: the first letter of
    each task's name.
    """

    id: Id
    name: Text
    step: Step
    members: Annotated[tuple[Id, ...], Field(min_length=2, max_length=12)]


class Tasks(Document):
    format: Literal["amberkey/tasks@1"] = "amberkey/tasks@1"
    id: Id
    name: Text
    tasks: tuple[Task, ...] = ()
    families: tuple[Family, ...] = ()

    def task(self, task_id: str) -> Task | None:
        """The task with that id, or None."""
        return self._by_id.get(task_id)

    @cached_property
    def _by_id(self) -> Mapping[str, Task]:
        return {t.id: t for t in self.tasks}

    def family_of(self, task_id: str) -> Family | None:
        """The family that a task is a member of, or None."""
        return next((f for f in self.families if task_id in f.members), None)

    @model_validator(mode="after")
    def _whole(self) -> Self:
        known = {t.id for t in self.tasks}
        placed: dict[str, str] = {}
        for n, family in enumerate(self.families):
            for member in family.members:
                if member not in known:
                    raise ValueError(f"families[{n}].members: {family.id} names the task {member}, which isn't there")
                if member in placed:
                    raise ValueError(f"families[{n}].members: {member} is in {placed[member]} and in {family.id}; choose one")
                placed[member] = family.id
        return self


NO_TASKS = Tasks(id="tasks", name="No tasks")
