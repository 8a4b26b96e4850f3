"""Settings files described over the API: guessed, corrected, tried out, kept, taken back."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from amberkey.server.library.documents import programs_by_key

NEW = "/catalogue/weir-desk/2/settings-files"
FILE = "; kept by the program\n[window]\nwide=1180\n\n[keys]\nsave.sheet=ctl~s\nprint.sheet=ctl~p;f8\nold.pan=ctl~alt~left\n"


@pytest.fixture
def desk(ines):
    """A program with two commands that no file's name is known of yet."""
    made = ines.post("/catalogue", {"name": "Weir Desk", "version": "2", "platforms": ["windows"]})
    assert made[0] == 200, made
    _, program = ines.get("/catalogue/weir-desk/2")
    commands = [
        {"name": "Save the sheet", "keys": {"windows": "Ctrl+S"}},
        {"name": "Print", "keys": {"windows": "Ctrl+P or F8"}},
    ]
    given = {k: program[k] for k in ("digest", "name", "kind", "platforms", "scopes")}
    assert ines.put("/catalogue/weir-desk/2", {**given, "commands": commands})[0] == 200
    return ines


def drop(api, text=FILE, at=NEW, **more):
    data = text if isinstance(text, bytes) else text.encode()
    return api.send(at, {"file": SimpleUploadedFile("settings.ini", data), **more})


def kept(api, described, at=NEW, number=0, called=None, new=()):
    _, now = api.get(at)
    body = {"digest": now["digest"], "number": number, "described": described, "called": called or {}, "new": list(new)}
    return api.put(at, body)


def test_a_file_is_understood_unasked(desk):
    status, found = drop(desk)
    assert status == 200, found
    best = found["proposals"][0]
    assert (best["described"]["container"], best["described"]["at"]) == ("ini", ["keys"])
    assert [(e["line"], e["called"], e["keys"]) for e in best["entries"]] == [
        (6, "save.sheet", ["Ctrl S"]),
        (7, "print.sheet", ["Ctrl P", "F8"]),
        (8, "old.pan", ["Ctrl Alt ←"]),
    ]
    assert best["same"] is True
    assert found["lines"][5] == "save.sheet=ctl~s"


def test_names_of_a_file_are_matched_by_words_else_by_keys(desk):
    best = drop(desk)[1]["proposals"][0]
    assert [(e["state"], e["may_be"]) for e in best["entries"]] == [
        ("unknown", "save-the-sheet"),
        ("unknown", "print"),
        ("unknown", None),
    ]


def test_what_is_kept_reads_and_can_be_undone(desk):
    described = drop(desk)[1]["proposals"][0]["described"]
    status, done = kept(
        desk, described, called={"save-the-sheet": {"called": "save.sheet"}, "print": {"called": "print.sheet"}}
    )
    assert status == 200, done
    assert done["title"] == "Described where Weir Desk 2 keeps its keys"
    program = programs_by_key()["program/weir-desk@2"]
    assert program.settings_files[0].container == "ini"
    again = drop(desk, described=json.dumps(described))[1]["proposals"][0]
    assert [(e["command"], e["state"]) for e in again["entries"]] == [
        ("save-the-sheet", "default"),
        ("print", "default"),
        (None, "unknown"),
    ]
    assert desk.post(f"/history/{done['id']}/undo")[0] == 200
    before = programs_by_key()["program/weir-desk@2"]
    assert (before.settings_files, before.commands[0].in_file) == ((), "")


def test_a_description_is_replaced_and_taken_away(desk):
    described = drop(desk)[1]["proposals"][0]["described"]
    kept(desk, described)
    assert kept(desk, {**described, "path": {"windows": "AppData/Weir/settings.ini"}})[0] == 200
    _, now = desk.get(NEW)
    assert [d.get("path") for d in now["described"]] == [{"windows": "AppData/Weir/settings.ini"}]
    assert kept(desk, None)[0] == 200
    assert desk.get(NEW)[1]["described"] == []
    assert kept(desk, None)[0] == 400


def test_writing_is_tried_out_with_the_lines_that_change(desk):
    described = drop(desk)[1]["proposals"][0]["described"]
    kept(desk, described, called={"save-the-sheet": {"called": "save.sheet"}})
    tried = drop(desk, described=json.dumps(described), command="save-the-sheet", shortcuts="Ctrl+Shift+F2")[1]["tried"]
    assert tried["lines"] == [{"line": 6, "before": "save.sheet=ctl~s", "after": "save.sheet=ctl~shift~F2"}]
    assert (tried["size"] - len(FILE), tried["refused"]) == (len("shift~f2") - 1, "")


PARTED = "[keys/desk]\nsave.sheet=Ctrl+S\n\n[keys/list]\nprint.sheet=Ctrl+P\n"


def test_a_match_is_tried_before_it_is_kept_and_tells_which_context_a_scope_is(desk):
    described = drop(desk, PARTED)[1]["proposals"][0]["described"]
    assert described["at"] == ["keys/{context}"]
    save = {"save-the-sheet": {"called": "save.sheet", "context": "desk"}}
    more = {"described": json.dumps(described), "called": json.dumps(save)}
    found = drop(desk, PARTED, **more, command="save-the-sheet", shortcuts="F2")[1]
    assert [(e["context"], e["command"]) for e in found["proposals"][0]["entries"]] == [
        ("desk", "save-the-sheet"),
        ("list", None),
    ]
    assert [line["after"] for line in found["tried"]["lines"]] == ["save.sheet=F2"]
    assert desk.get(NEW)[1]["described"] == []
    assert kept(desk, described, called=save)[0] == 200
    assert list(programs_by_key()["program/weir-desk@2"].settings_files[0].scopes.values()) == ["desk"]


def test_one_scope_in_two_contexts_is_refused_with_what_to_do(desk):
    described = drop(desk, PARTED)[1]["proposals"][0]["described"]
    both = {
        "save-the-sheet": {"called": "save.sheet", "context": "desk"},
        "print": {"called": "print.sheet", "context": "list"},
    }
    status, refused = kept(desk, described, called=both)
    assert (status, refused["faults"][0]["place"]) == (400, "scopes")
    assert "stand in desk and in list" in refused["faults"][0]["says"]
    assert drop(desk, PARTED, described=json.dumps(described), called="[1]")[0] == 400


def test_what_can_not_be_written_says_why(desk):
    described = drop(desk)[1]["proposals"][0]["described"]
    kept(desk, described, called={"save-the-sheet": {"called": "save.sheet"}})
    tried = drop(desk, described=json.dumps(described), command="save-the-sheet", shortcuts="Ctrl+K then Ctrl+S")[1]["tried"]
    assert tried["lines"] == []
    assert "in turn" in tried["refused"] or "presses" in tried["refused"], tried
    status, refused = drop(desk, described=json.dumps(described), command="save-the-sheet", shortcuts="Ctrl+")
    assert (status, refused["status"]) == (400, 400)


def test_faults_of_a_description_stand_at_their_place(desk):
    described = drop(desk)[1]["proposals"][0]["described"]
    status, refused = kept(desk, {**described, "command": "value"})
    assert status == 400
    assert any("settings_files[0]" in f["place"] for f in refused["faults"]), refused
    assert drop(desk, described="{")[0] == 400
    assert drop(desk, described="[" * 100_000)[0] == 400
    assert drop(desk, described='{"container": "spool"}')[0] == 400


@pytest.mark.parametrize("text", [b"", b"\xff\xfe\x00", b"\x00\x01\x02", b"Dear all,\nthe boat leaves at nine.\n"])
def test_what_has_no_keys_gives_no_proposal(desk, text):
    status, found = drop(desk, text)
    assert (status, found["proposals"], found["tried"]) == (200, [], None)


def test_a_description_that_does_not_fit_the_file_is_told(desk):
    described = drop(desk)[1]["proposals"][0]["described"]
    status, refused = drop(desk, '{"a": ', described=json.dumps({**described, "container": "json"}))
    assert (status, refused["title"]) == (400, "The settings file can't be read.")


def test_a_sample_has_its_limit(desk):
    assert drop(desk, b"#" * (512 * 1024 + 1))[0] == 413


def test_a_reader_looks_and_keeps_nothing(desk, tove):
    status, found = drop(tove)
    assert status == 200
    assert kept(tove, found["proposals"][0]["described"])[0] == 403


def desk_program():
    return programs_by_key()["program/weir-desk@2"]


def test_names_that_are_none_of_its_commands_become_commands_with_the_description(desk):
    described = drop(desk)[1]["proposals"][0]["described"]
    called = {"save-the-sheet": {"called": "save.sheet"}}
    status, done = kept(desk, described, called=called, new=[{"called": "old.pan"}, {"called": "zoomIn_Fully"}])
    assert (status, done["title"]) == (200, "Described where Weir Desk 2 keeps its keys, with 2 new commands")
    program = desk_program()
    made = {c.id: (c.name, c.in_file, c.scope, dict(c.defaults)) for c in program.commands[2:]}
    assert made == {
        "old-pan": ("Old pan", "old.pan", program.scopes[0].id, {}),
        "zoom-in-fully": ("Zoom In Fully", "zoomIn_Fully", program.scopes[0].id, {}),
    }
    best = drop(desk, described=json.dumps(described))[1]["proposals"][0]
    assert [(e["called"], e["command"]) for e in best["entries"]] == [
        ("save.sheet", "save-the-sheet"),
        ("print.sheet", None),
        ("old.pan", "old-pan"),
    ]
    desk.post(f"/history/{done['id']}/undo")
    assert [c.id for c in desk_program().commands] == ["save-the-sheet", "print"]
    assert desk_program().settings_files == ()


def test_a_new_command_in_a_context_of_no_scope_brings_its_scope(desk):
    described = {
        "container": "ini",
        "at": ["{where}"],
        "context": "{where}",
        "command": "name",
        "keys": {"at": "value"},
        "dialect": {"modifiers": {"Control": ["ctl~"]}, "letters": "small"},
    }
    new = [{"called": "pan", "context": "map"}, {"called": "zoom", "context": "map"}, {"called": "pan", "context": "List view"}]
    status, done = kept(desk, described, new=new)
    assert status == 200, done
    program = desk_program()
    assert [(c.id, c.name, c.scope) for c in program.commands[2:]] == [
        ("pan", "Pan", "map"),
        ("zoom", "Zoom", "map"),
        ("pan-2", "Pan", "list-view"),
    ]
    assert {s.id: s.name for s in program.scopes}["list-view"] == "List view"
    assert dict(program.settings_files[0].scopes) == {"list-view": "List view"}
    text = "[map]\npan=ctl~p\n[List view]\npan=ctl~l\n"
    best = drop(desk, text, described=json.dumps({**described, "scopes": {"list-view": "List view"}}))[1]["proposals"][0]
    assert [e["command"] for e in best["entries"]] == ["pan", "pan-2"]


SHOWN = "[keys]\n# Every command:\n#save.sheet=ctl~s\n#print.sheet=ctl~q\n#zoom.in=f6\nsave.sheet=f12\n"


def test_defaults_that_a_file_only_shows_are_told_and_become_those_of_new_commands(desk):
    best = drop(desk, SHOWN)[1]["proposals"][0]
    assert (best["described"]["shown_behind"], best["read"], best["shown"]) == ("#", 1, 3)
    assert [(e["line"], e["called"], e["shown"], e["may_be"]) for e in best["entries"]] == [
        (3, "save.sheet", True, "save-the-sheet"),
        (4, "print.sheet", True, None),
        (5, "zoom.in", True, None),
        (6, "save.sheet", False, "save-the-sheet"),
    ]
    called = {"save-the-sheet": {"called": "save.sheet"}, "print": {"called": "print.sheet"}}
    new = [{"called": "zoom.in", "shortcuts": best["entries"][2]["shortcuts"]}]
    status, done = kept(desk, best["described"], called=called, new=new)
    assert status == 200, done
    made = desk_program().commands[-1]
    assert (made.in_file, {p: [str(s) for s in keys] for p, keys in made.defaults.items()}) == ("zoom.in", {"windows": ["F6"]})
    again = drop(desk, SHOWN, described=json.dumps(best["described"]))[1]["proposals"][0]
    assert [e["state"] for e in again["entries"]] == ["default", "differs", "default", "differs"]


def test_a_new_command_has_no_default_that_is_no_shortcut(desk):
    described = drop(desk)[1]["proposals"][0]["described"]
    status, problem = kept(desk, described, new=[{"called": "old.pan", "shortcuts": ["Ctrl+Wheel"]}])
    assert (status, "Wheel" in json.dumps(problem)) == (400, True)
    assert len(desk_program().commands) == 2


@pytest.mark.parametrize("called", ["", "x" * 121])
def test_a_name_that_can_be_none_is_refused(desk, called):
    described = drop(desk)[1]["proposals"][0]["described"]
    assert kept(desk, described, new=[{"called": called}])[0] == 422
    assert kept(desk, described, new=[{"called": "..\u202e"}])[0] in (200, 400)


def test_the_descriptions_of_other_versions_are_told_with_what_differs(desk):
    described = drop(desk)[1]["proposals"][0]["described"]
    kept(desk, described)
    again = {"name": "x", "version": "3", "platforms": ["windows"], "like": "weir-desk@2", "as_version": True}
    assert desk.post("/catalogue", again)[0] == 200
    newer = NEW.replace("/2/", "/3/")
    (other,) = desk.get(newer)[1]["others"]
    assert (other["version"], other["described"], other["differs"]) == ("2", [described], [[]])
    kept(desk, {**described, "at": ["other"]}, at=newer)
    (other,) = desk.get(NEW)[1]["others"]
    assert other["version"] == "3"
    assert other["differs"] == [[{"what": "where its entries stand", "here": "keys", "there": "other"}]]
    # One that this version doesn't have yet is there to begin with.
    kept(desk, None)
    (other,) = desk.get(NEW)[1]["others"]
    assert (len(other["described"]), other["differs"]) == (1, [])
