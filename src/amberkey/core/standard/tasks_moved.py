"""A standard after two tasks became one, or a task is gone."""

from amberkey.core.standard.model import Standard


def standard_with_task_moved(standard: Standard, gone: str, into: str | None) -> Standard:
    """Lines and exceptions of a task are those of another one now; where that has its own for the same platform and layouts,
    its own stay. With none to go to they are gone."""
    if into is None:
        lines = tuple(v for v in standard.lines if v.task != gone)
        exceptions = tuple(e for e in standard.exceptions if e.task != gone)
        return standard.model_copy(update={"lines": lines, "exceptions": exceptions})
    ruled = {(v.platform, o) for v in standard.lines if v.task == into for o in v.layouts or ("",)}
    exempt = {(e.program, e.platform, o) for e in standard.exceptions if e.task == into for o in e.layouts or ("",)}
    lines = tuple(
        v if v.task != gone else v.model_copy(update={"task": into})
        for v in standard.lines
        if v.task != gone or ruled.isdisjoint((v.platform, o) for o in v.layouts or ("",))
    )
    exceptions = tuple(
        e if e.task != gone else e.model_copy(update={"task": into})
        for e in standard.exceptions
        if e.task != gone or exempt.isdisjoint((e.program, e.platform, o) for o in e.layouts or ("",))
    )
    return standard.model_copy(update={"lines": lines, "exceptions": exceptions})
