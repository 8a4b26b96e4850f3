"""Documents as sheets: what is written comes back the same, and what is wrong in a row is told with its place."""

import datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.catalogue.headings import match_headings
from amberkey.core.catalogue.tables import read_tables
from amberkey.core.exchange.as_sheets.commands import command_heads, command_rows
from amberkey.core.exchange.as_sheets.found import CLASH_HEADS, COVERAGE_HEADS, clash_rows, coverage_rows
from amberkey.core.exchange.as_sheets.names import HEADS as NAME_HEADS
from amberkey.core.exchange.as_sheets.names import Renamed, name_rows, names_from
from amberkey.core.exchange.as_sheets.profile import HEADS, profile_from, profile_rows
from amberkey.core.exchange.as_sheets.standard import HEADS as STANDARD_HEADS
from amberkey.core.exchange.as_sheets.standard import standard_from, standard_rows
from amberkey.core.exchange.errors import SheetError
from amberkey.core.exchange.sheets import read_sheet
from amberkey.core.exchange.sheets_out import SHEET_FORMS, write_csv, write_sheet
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.profiles.model import Entry, Given, NamedSet, Profile
from amberkey.core.programs.model import Program
from amberkey.core.standard.coverage import Gauge
from amberkey.core.standard.judging import STATE_WORDS
from amberkey.core.standard.model import Exempt, Line, MakesRoom, Meanings, Standard
from amberkey.core.tasks.model import Tasks
from tests.core.test_example import documents, estate

PROGRAMS = {d.id: d for d in documents() if isinstance(d, Program)}
PROFILES = [d for d in documents() if isinstance(d, Profile)]
(STANDARD,) = (d for d in documents() if isinstance(d, Standard))
(TASKS,) = (d for d in documents() if isinstance(d, Tasks))
NAMES = {p.id: p.name for p in PROGRAMS.values()}


def sheet(profile, form="csv"):
    return write_sheet(form, HEADS, profile_rows(profile, PROGRAMS), "Sheet")


@pytest.mark.parametrize("form", SHEET_FORMS)
@pytest.mark.parametrize("profile", PROFILES, ids=lambda p: p.id)
def test_every_profile_of_the_example_comes_back_the_same(profile, form):
    assert profile_from(read_sheet(sheet(profile, form)), profile) == profile


KEYS = ("Control+S", "F8 then L", "Control+,", "-", "=", "'", "Control+Shift+Meta+ö", "code:Equal", "Control+;", "O then R")
keys = st.sampled_from(KEYS)
shortcuts = st.lists(keys.map(read_shortcut), max_size=3, unique=True)
entries = st.builds(
    Entry,
    program=st.sampled_from(["quaysheet", "nobody-knows"]),
    command=st.sampled_from(["save", "odd.one", "x"]),
    arguments=st.dictionaries(st.sampled_from(["n", "colour"]), st.one_of(st.integers(0, 99), st.just("red")), max_size=2),
    platform=st.sampled_from(["windows", "macos", "linux"]),
    layouts=st.sampled_from([(), ("de",), ("de", "us")]),
    shortcuts=shortcuts.map(lambda own: tuple(Given(keys=k) for k in own)),
    over=shortcuts.map(tuple),
    since=st.sampled_from([None, datetime.date(2026, 11, 24)]),
    locked=st.booleans(),
)
drawn = st.lists(entries, max_size=6, unique_by=lambda e: e.key)


@given(drawn, drawn, st.sampled_from(SHEET_FORMS))
def test_any_profile_comes_back_the_same(own, of_a_set, form):
    named = NamedSet(id="theirs", name="Theirs", entries=tuple(of_a_set))
    profile = Profile(id="p", name="P", entries=tuple(own), sets=(named,)).normal()
    if own or of_a_set:
        assert profile_from(read_sheet(sheet(profile, form)), profile) == profile


def test_where_a_shortcut_is_live_comes_back_too():
    given_in = (Given(keys=read_shortcut("F8"), scope="sheet"), Given(keys=read_shortcut("F9")))
    entry = Entry(program="quaysheet", command="save", platform="windows", shortcuts=given_in)
    profile = Profile(id="p", name="P", entries=(entry,))
    assert profile_from(read_sheet(sheet(profile)), profile) == profile


def changed(**cells):
    """A sheet of one entry with some cells changed."""
    entry = Entry(program="quaysheet", command="save", platform="windows", shortcuts=(Given(keys=read_shortcut("F8")),))
    profile = Profile(id="p", name="P", entries=(entry,))
    (row,) = profile_rows(profile, PROGRAMS)
    told = dict(zip(HEADS, row, strict=True)) | cells
    return read_sheet(write_csv(HEADS, [[told[h] for h in HEADS]])), profile


def test_a_key_that_was_changed_in_the_sheet_is_changed():
    found, profile = changed(Keys="Control+Alt+S or F7")
    assert [str(g.keys) for g in profile_from(found, profile).entries[0].shortcuts] == ["Control+Alt+S", "F7"]
    found, profile = changed(Keys="none")
    assert profile_from(found, profile).entries[0].shortcuts == ()


@pytest.mark.parametrize(
    ("cells", "place", "says"),
    [
        ({"Keys": "Hyper+X"}, "row 2, Keys", "is no shortcut"),
        ({"Platform": "Amiga"}, "row 2, Platform", "is no platform"),
        ({"Program id": "Not An Id"}, "row 2, Program id", "pattern"),
        ({"Command id": ""}, "row 2, Command id", "pattern"),
        ({"Locked": "maybe"}, "row 2, Locked", "neither yes nor no"),
        ({"Since": "yesterday"}, "row 2, Since", "no day"),
        ({"Values": "seven"}, "row 2, Values", "name=value"),
        ({"Layouts": "klingon"}, "row 2, Layouts", "klingon"),
        ({"Set": "theirs"}, "row 2, Set", "no set theirs"),
        ({"Where": "sheet or main"}, "row 2, Where", "2 places"),
        ({"Instead of": "Hyper+X"}, "row 2, Instead of", "is no shortcut"),
        ({"Keys": "Main+S"}, "row 2", "real modifiers"),
    ],
)
def test_what_is_wrong_in_a_row_is_told_with_its_place(cells, place, says):
    found, profile = changed(**cells)
    with pytest.raises(SheetError) as refused:
        profile_from(found, profile)
    (fault,) = refused.value.faults
    assert fault.place == place
    assert says in fault.says
    assert fault.cure


def test_every_fault_is_told_and_not_the_first_alone():
    found = read_sheet(write_csv(HEADS, [["x"] * len(HEADS)] * 3))
    with pytest.raises(SheetError) as refused:
        profile_from(found, Profile(id="p", name="P"))
    assert {f.place.partition(",")[0] for f in refused.value.faults} == {"row 2", "row 3", "row 4"}


def test_a_row_that_stands_twice_and_a_column_that_is_gone_are_told():
    profile = PROFILES[0]
    rows = list(profile_rows(profile, PROGRAMS))
    with pytest.raises(SheetError, match="stands in an earlier row too"):
        profile_from(read_sheet(write_csv(HEADS, rows[:1] * 2)), profile)
    with pytest.raises(SheetError, match="no columns Keys, Command id"):
        profile_from(read_sheet(b"Program id,Platform\nx,windows\n"), profile)


@pytest.mark.parametrize("form", SHEET_FORMS)
def test_the_standard_comes_back_the_same(form):
    more = STANDARD.model_copy(
        update={
            "meanings": (*STANDARD.meanings, Meanings(keys=read_shortcut("F12"), platform="macos", reason="looked at")),
            "exceptions": (
                *STANDARD.exceptions,
                Exempt(task="save", program="hewer", platform="macos", reason="as ever", until=datetime.date(2027, 1, 1)),
            ),
            "makes_room": (
                MakesRoom(program="hewer", command="link", platform="macos", keys=(read_shortcut("F12"), read_shortcut("F6"))),
                MakesRoom(program="hewer", command="stamp", platform="linux", reason="for Save"),
            ),
        }
    ).normal()
    data = write_sheet(form, STANDARD_HEADS, standard_rows(more, TASKS, NAMES), "Standard")
    assert standard_from(read_sheet(data), more) == more


def test_two_lines_for_one_task_are_told():
    line = Line(task="save", platform="windows", keys=read_shortcut("Control+S"))
    rows = list(standard_rows(Standard(id="s", name="S", lines=(line,)), TASKS, NAMES))
    with pytest.raises(SheetError, match="stands twice"):
        standard_from(read_sheet(write_csv(STANDARD_HEADS, rows * 2)), STANDARD)


@pytest.mark.parametrize(
    ("cells", "place"),
    [
        ({"What": "poem"}, "row 2, What"),
        ({"Keys": "none"}, "row 2, Keys"),
        ({"Keys": "F8 or F9"}, "row 2, Keys"),
        ({"Task id": ""}, "row 2, Task id"),
        ({"What": "exception", "Program id": "hewer", "Reason": ""}, "row 2, Reason"),
    ],
)
def test_what_is_wrong_in_a_line_is_told_with_its_place(cells, place):
    line = Line(task="save", platform="windows", keys=read_shortcut("Control+S"))
    (row,) = standard_rows(Standard(id="s", name="S", lines=(line,)), TASKS, NAMES)
    told = dict(zip(STANDARD_HEADS, row, strict=True)) | cells
    with pytest.raises(SheetError) as refused:
        standard_from(read_sheet(write_csv(STANDARD_HEADS, [[told[h] for h in STANDARD_HEADS]])), STANDARD)
    assert [f.place for f in refused.value.faults] == [place]


@pytest.mark.parametrize("form", SHEET_FORMS)
@pytest.mark.parametrize("program", [p for p in PROGRAMS.values() if p.kind != "system"][:6], ids=lambda p: p.id)
def test_a_sheet_of_commands_is_understood_as_a_list_of_them(program, form):
    heads = command_heads(program)
    (table,) = read_tables(write_sheet(form, heads, command_rows(program, TASKS), "Commands"))
    columns = {heads[n]: field for n, field in match_headings(table).columns.items()}
    assert columns["Command"] == "name"
    assert columns["Command id"] == "id"
    assert columns["Task"] == "task"
    for platform in program.platforms:
        assert columns[{"windows": "Windows", "macos": "macOS", "linux": "Linux"}[platform]] == f"keys.{platform}"
    assert not any(head.startswith("How people") for head in columns)
    assert len(table.rows) == 1 + sum(not c.retired for c in program.commands)


def test_coverage_counts_what_the_figures_count():
    coverage = Gauge().measure(estate(), STANDARD)
    rows = [dict(zip(COVERAGE_HEADS, r, strict=True)) for r in coverage_rows(coverage)]
    for state, count in coverage.states().items():
        assert sum(int(r["Setups"]) for r in rows if r["State"] == STATE_WORDS[state]) == count
    agreeing = [r for r in rows if r["State"] == "agrees"]
    assert sum(int(r["People"]) for r in agreeing) == coverage.whole().people.agree
    assert len({tuple(r.values()) for r in rows}) == len(rows)


def test_every_clash_has_its_row_with_what_happens():
    whole = estate()
    groups = whole.groups()
    boards = {g.clash.identity: whole.board(g.setups[0].id) for g in groups}
    first = groups[0].clash.identity
    rows = [dict(zip(CLASH_HEADS, r, strict=True)) for r in clash_rows(groups, boards, {first: "as ever"})]
    assert [r["Clash id"] for r in rows] == [g.clash.identity for g in groups]
    assert rows[0]["Allowed"] == "as ever"
    assert all(r["What happens"] and int(r["Setups"]) > 0 for r in rows)


def named(rows, tasks=TASKS, programs=None, heads=NAME_HEADS, form="csv"):
    return names_from(read_sheet(write_sheet(form, heads, rows, "Names")), tasks, programs or PROGRAMS.values())


def all_names():
    return [list(r) for r in name_rows(TASKS.tasks, PROGRAMS.values())]


@pytest.mark.parametrize("form", SHEET_FORMS)
def test_names_that_come_back_unchanged_change_nothing(form):
    back = named(all_names(), form=form)
    assert (back.tasks, back.programs, back.changes) == (TASKS, (), ())


words = st.one_of(st.just(""), st.text(st.characters(categories=["L", "N"]), min_size=1, max_size=12))


@given(st.data())
def test_every_name_of_a_sheet_is_the_one_that_is_there_then(data):
    rows = all_names()
    chosen = data.draw(st.lists(st.integers(0, len(rows) - 1), min_size=1, max_size=6, unique=True))
    picked = [rows[n] for n in chosen]
    for row in picked:
        row[3:7] = data.draw(st.lists(words, min_size=4, max_size=4))
    back = named(picked)
    after = [
        list(r) for r in name_rows(back.tasks.tasks, [{p.id: p for p in back.programs}.get(p.id, p) for p in PROGRAMS.values()])
    ]
    assert after == rows, "what was picked is as the sheet says, and all else as it was"
    so_called = {row[2] if row[0] == "task" else f"{row[1]}: {row[2]}" for row in picked}
    assert {c.of for c in back.changes} <= so_called


def test_a_name_goes_to_every_version_that_has_the_command_whatever_it_was_called_then():
    newer = PROGRAMS["quaysheet"]
    command = newer.commands[0]
    older = newer.model_copy(
        update={"version": "1", "commands": (command.model_copy(update={"id": "old-id", "names": {}}), *newer.commands[1:])}
    )
    newer = newer.model_copy(
        update={"commands": (command.model_copy(update={"was": ("old-id",), "names": {}}), *newer.commands[1:])}
    )
    row = ["command", newer.name, command.name, "", "Neuer Name", "", "", newer.id, "old-id"]
    back = named([row], programs=(older, newer))
    assert [p.commands[0].names for p in back.programs] == [{"de": "Neuer Name"}, {"de": "Neuer Name"}]
    assert back.changes == (Renamed(f"{newer.name}: {command.name}", "de", "", "Neuer Name"),)


def test_a_language_without_a_column_stays_as_it_is():
    task = TASKS.tasks[0].model_copy(update={"names": {"de": "Alt", "fr": "Ancien"}})
    tasks = TASKS.model_copy(update={"tasks": (task, *TASKS.tasks[1:])})
    back = named([["task", "", task.id, "Neu"]], tasks, heads=("What", "Program id", "Id", "German"))
    assert back.tasks.tasks[0].names == {"de": "Neu", "fr": "Ancien"}
    gone = named([["task", "", task.id, ""]], tasks, heads=("What", "Program id", "Id", "German"))
    assert gone.tasks.tasks[0].names == {"fr": "Ancien"}, "an empty cell is no name"


@pytest.mark.parametrize(
    ("row", "place", "says"),
    [
        (["task", "", "", "", "", "", "", "", "no-such"], "row 2, Id", "There is no task 'no-such'."),
        (["verb", "", "", "", "", "", "", "", "save"], "row 2, What", "'verb' is neither task nor command."),
        (["command", "", "", "", "", "", "", "nobody", "save"], "row 2, Program id", "There is no program 'nobody'."),
        (["command", "", "", "", "", "", "", "quaysheet", "nix"], "row 2, Id", "Quaysheet has no command 'nix'."),
        (["task", "", "", "", "x" * 300, "", "", "", TASKS.tasks[0].id], "row 2, German", "String should have at most 200"),
    ],
)
def test_what_is_wrong_in_a_sheet_of_names_is_told_with_its_place(row, place, says):
    with pytest.raises(SheetError) as error:
        named([row])
    (fault,) = error.value.faults
    assert (fault.place, fault.says[: len(says)]) == (place, says)


def test_a_thing_in_two_rows_is_refused_and_so_is_a_sheet_without_a_language():
    row = ["task", "", "", "", "A", "", "", "", TASKS.tasks[0].id]
    with pytest.raises(SheetError, match="stands in an earlier row too"):
        named([row, row])
    with pytest.raises(SheetError, match="no column German"):
        named([["task", "", TASKS.tasks[0].id]], heads=("What", "Program id", "Id"))
