"""A setup's settings files: looked at, taken out one by one or together, or written into a file that somebody has."""

from django.http import HttpRequest, HttpResponse
from django.utils.http import content_disposition_header
from ninja import File, Router
from ninja.files import UploadedFile

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.exchange.rendering import NOT_APPROVED, Rendered, files_of_setup, render, wanted_on
from amberkey.core.exchange.zips import zipped
from amberkey.core.profiles.resolving import ResolvedSetup
from amberkey.server.estate import current_estate, in_sight
from amberkey.server.library.approving import may_lie
from amberkey.server.people.acting import actor_of
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Schema

FILES_OUT = "took out settings files"
LARGEST_FILE = 4 * 1024 * 1024
router = Router(tags=["exchange"])


class SetupFileOut(Schema):
    """A settings file of a setup. `file` names it among those of its program; `text` is what it holds, empty where it can't be
    written, and then `left_out` says why. `put`: the command line with which it gets into a store, for what is no file.
    """

    program: str
    program_name: str
    file: int
    path: str
    commands: int
    left_out: list[str]
    text: str
    put: str


@router.get("/setups/{setup_id}/files", response=list[SetupFileOut])
def setup_files(request: HttpRequest, setup_id: str) -> list[SetupFileOut]:
    """The settings files of a setup as new ones: what its layers set, program by program."""
    found: list[SetupFileOut] = []
    for one in _rendered(setup_id):
        number = sum(f.program == one.program.id for f in found)
        found.append(
            SetupFileOut(
                program=one.program.id,
                program_name=one.program.name,
                file=number,
                path=one.path,
                commands=len(one.commands),
                left_out=list(one.left_out),
                text=_text(one),
                put=one.export.put if one.export else "",
            )
        )
    return found


@router.get("/setups/{setup_id}/files/together", response={200: bytes})
def setup_files_together(request: HttpRequest, setup_id: str) -> HttpResponse:
    """All settings files of a setup in a zip file, each at its place below the home."""
    files = [f for f in _rendered(setup_id) if f.data]
    if not files:
        raise Problem(
            409,
            "There is no settings file to take out.",
            "No layer of this setup sets anything for a program whose file is described.",
            "Describe where a program keeps its keys, or give commands other keys.",
        )
    actor_of(request).record(FILES_OUT, f"setup/{setup_id}"[:200])
    return _download(zipped(sorted((f.path, f.data) for f in files)), f"{setup_id[:60]}-files.zip", "application/zip")


@router.get("/setups/{setup_id}/files/{program}/{number}", response={200: bytes})
def setup_file(request: HttpRequest, setup_id: str, program: str, number: int) -> HttpResponse:
    """One settings file of a setup, as a new one."""
    own = [f for f in _rendered(setup_id) if f.program.id == program]
    if not 0 <= number < len(own) or not own[number].data:
        raise NotFound(f"such a settings file of {program[:80]}")
    actor_of(request).record(FILES_OUT, f"setup/{setup_id}"[:200], own[number].path)
    return _download(own[number].data, own[number].path.rpartition("/")[2])


@router.post("/setups/{setup_id}/files/{program}/{number}", response={200: bytes})
def setup_file_into(request: HttpRequest, setup_id: str, program: str, number: int, file: File[UploadedFile]) -> HttpResponse:
    """A settings file that somebody has, with what the setup's layers set; everything else in it stays as it is."""
    if (file.size or 0) > LARGEST_FILE:
        raise Problem(413, "The settings file is too large.", f"{LARGEST_FILE // 1048576} MB is the most.")
    resolved = _resolved(setup_id)
    found = resolved.program(program)
    if found is None or not 0 <= number < len(found.settings_files):
        raise NotFound(f"such a settings file of {program[:80]}")
    place = found.settings_files[number].place(resolved.setup.works_on)
    if place and not may_lie()(found, resolved.setup.works_on, place):
        raise Problem(409, "This settings file can't be written yet.", NOT_APPROVED, "Ask a releaser to look at it.")
    try:
        data, _, left = render(found, found.settings_files[number], wanted_on(resolved.commands[program]), file.read())
    except SettingsFileError as error:
        raise Problem(400, "The file can't be written into.", error.says, "Choose the file that the program wrote.") from error
    if left:
        raise Problem(
            409, "The file can't say all of it.", " ".join(left[:5]), "Take that out of the layers, or set it by hand."
        )
    actor_of(request).record(FILES_OUT, f"setup/{setup_id}"[:200], "into a file of theirs")
    return _download(data, (file.name or "settings").rpartition("/")[2][:120])


def _resolved(setup_id: str) -> ResolvedSetup:
    estate = current_estate()
    # What somebody has set for themselves is in its files.
    if setup_id not in estate.setups or not in_sight(setup_id):
        raise NotFound(f"setup {setup_id[:80]}")
    return estate.board(setup_id).setup


def _rendered(setup_id: str) -> list[Rendered]:
    return files_of_setup(_resolved(setup_id), may_lie())


def _text(file: Rendered) -> str:
    """What a file holds, for people to look at."""
    how = next((h for h in file.program.settings_files if h.path.get(file.platform) in (file.path, None)), None)
    return file.data.decode(how.encoding if how else "utf-8", "replace")


def _download(data: bytes, name: str, content_type: str = "application/octet-stream") -> HttpResponse:
    called = content_disposition_header(as_attachment=True, filename=name)
    return HttpResponse(data, content_type=content_type, headers={"Content-Disposition": called})
