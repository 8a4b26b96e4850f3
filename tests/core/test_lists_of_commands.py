"""Other people's tables as programs: tables of every form, headings, groups, identity, merging with what the last list said."""

import contextlib
import io
import json
import zipfile

import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook

from amberkey.core.catalogue.headings import match_headings
from amberkey.core.catalogue.listing import ListOfCommands, told, with_listed
from amberkey.core.catalogue.tables import read_pasted, read_tables
from amberkey.core.exchange.errors import SheetError
from amberkey.core.exchange.sheets import MOST_ROWS, SheetLimits
from amberkey.core.programs.making import blank_program, with_commands, write_keys
from amberkey.core.tasks.neutral import neutral_tasks

HEADS = ("Category", "Action", "Windows", "Mac", "What it does")
ROWS = (
    ("File", "Save", "Ctrl+S", "⌘S", "Keeps the sheet"),
    ("File", "Print", "Ctrl+P", "⌘P", "Puts it on paper"),
    ("Edit", "Undo", "Ctrl+Z", "⌘Z", "Takes back what was done last"),
    ("Edit", "Insert row", "Alt, I, R", "—", "Puts a row in above"),
)


def blank(**more):
    return blank_program("Weir Desk", "1", "business", more.get("platforms", ["windows", "macos"]), ())


def read(table, program=None, **more):
    return ListOfCommands(program or blank(), neutral_tasks(), match_headings(table), **more).read(table)


def csv(*rows, separator=","):
    return "\n".join(separator.join(f'"{c}"' for c in row) for row in rows).encode()


def ods(rows):
    cell = "<table:table-cell><text:p>{}</text:p></table:table-cell>"
    lines = "".join(f"<table:table-row>{''.join(map(cell.format, row))}</table:table-row>" for row in rows)
    nothing = '<table:table-cell table:number-columns-repeated="16384"/>'
    ends = f'<table:table-row table:number-rows-repeated="1048570">{nothing}</table:table-row>'
    names = " ".join(f'xmlns:{n}="urn:oasis:names:tc:opendocument:xmlns:{n}:1.0"' for n in ("office", "table", "text"))
    sheet = f"<office:spreadsheet><table:table table:name='Keys'>{lines}{ends}</table:table></office:spreadsheet>"
    body = f"<office:document-content {names}><office:body>{sheet}</office:body></office:document-content>"
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        packed.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
        packed.writestr("content.xml", body)
    return out.getvalue()


def xlsx(rows):
    book = Workbook()
    for row in rows:
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def page(rows):
    """A help page: groups are cells over several rows, and a second, smaller table stands beside."""
    lines = ["<tr>" + "".join(f"<th>{h}</th>" for h in HEADS) + "</tr>"]
    for n, row in enumerate(rows):
        first = f'<td rowspan="2">{row[0]}</td>' if n % 2 == 0 else ""
        lines.append(
            "<tr>"
            + first
            + "".join(f"<td><kbd>{c}</kbd></td>" if n == 1 else f"<td>{c}</td>" for n, c in enumerate(row[1:]))
            + "</tr>"
        )
    table = f"<h2>Shortcuts</h2><table>{''.join(lines)}</table>"
    around = "<script>alert('<table>')</script></head><body><table><tr><td>Home<td>Help</table>"
    return f"<!doctype html><html><head>{around}{table}</body></html>"


FORMS = {
    "csv": csv(HEADS, *ROWS),
    "semicolons": csv(HEADS, *ROWS, separator=";"),
    "tabs": "\n".join("\t".join(r) for r in (HEADS, *ROWS)).encode("utf-16"),
    "xlsx": xlsx([HEADS, *ROWS]),
    "ods": ods([HEADS, *ROWS]),
    "json": json.dumps({"made": 1, "list": [dict(zip(HEADS, r, strict=True)) for r in ROWS]}).encode(),
    "html": page(ROWS).encode(),
}


@pytest.mark.parametrize("form", FORMS)
def test_every_form_of_one_table_gives_the_same_program(form):
    table = read_tables(FORMS[form])[0]
    listing = read(table)
    assert [r.what for r in listing.rows] == ["adds"] * 4
    after = with_listed(blank(), listing)
    commands = [
        (c.name, c.group, c.description, write_keys(c.defaults_on("windows")), write_keys(c.defaults_on("macos")))
        for c in after.commands
    ]
    assert commands == [
        ("Save", "File", "Keeps the sheet", "Control+S", "Meta+S"),
        ("Print", "File", "Puts it on paper", "Control+P", "Meta+P"),
        ("Undo", "Edit", "Takes back what was done last", "Control+Z", "Meta+Z"),
        ("Insert row", "Edit", "Puts a row in above", "Alt then I then R", ""),
    ]


def test_a_pasted_table_is_read_by_its_html_and_without_it_by_its_tabs():
    text = "\n".join("\t".join(r) for r in (HEADS, *ROWS))
    by_html, by_text = read_pasted("nothing", page(ROWS))[0], read_pasted(text)[0]
    assert [r.cells for r in by_html.rows] == [r.cells for r in by_text.rows]


def test_headings_in_four_languages_and_columns_without_any():
    german = read_tables(
        csv(("Befehl", "Tastenkürzel", "Bereich"), ("Sichern", "Strg+S", "Datei"), ("Drucken", "Strg+P", "Datei"))
    )[0]
    assert match_headings(german).columns == {0: "name", 1: "keys", 2: "group"}
    without = read_tables(csv(("Save", "⌘S"), ("Print", "⌘P"), ("Undo", "⌘Z")))[0]
    matching = match_headings(without)
    assert (matching.head, matching.columns) == (0, {0: "name", 1: "keys.macos"})
    assert any("by its modifiers" in s for s in matching.says)
    twice = match_headings(read_tables(csv(("Command", "Action", "Keys"), ("Save", "save it", "Ctrl+S")))[0])
    assert list(twice.columns.values()).count("name") == 1
    assert any("both called" in s for s in twice.says)


def test_rows_that_head_groups_repeated_heads_and_empty_cells_of_merged_groups_are_known():
    rows = (
        ("Command", "Keys"),
        ("File", ""),
        ("Save", "Ctrl+S"),
        ("Print", "Ctrl+P"),
        ("", ""),
        ("Command", "Keys"),
        ("Edit", ""),
        ("Undo", "Ctrl+Z"),
    )
    listing = read(read_tables(csv(*rows))[0])
    assert [(r.row, r.what, r.name) for r in listing.rows if r.what == "heading"] == [
        (2, "heading", "File"),
        (6, "heading", ""),
        (7, "heading", "Edit"),
    ]
    assert {r.name: r.said.get("group") for r in listing.rows if r.what == "adds"} == {
        "Save": "File",
        "Print": "File",
        "Undo": "Edit",
    }
    merged = (("Group", "Command", "Keys"), ("File", "Save", "Ctrl+S"), ("", "Print", "Ctrl+P"), ("Edit", "Undo", "Ctrl+Z"))
    assert [r.said["group"] for r in read(read_tables(csv(*merged))[0]).rows] == ["File", "File", "Edit"]


def test_an_empty_group_among_filled_ones_is_none():
    rows = [("Group", "Command", "Keys"), *((f"G{n}" if n != 3 else "", f"Do {n}", f"F{n + 1}") for n in range(8))]
    assert read(read_tables(csv(*rows))[0]).rows[3].said["group"] == ""


def test_a_name_that_several_groups_have_means_the_one_of_its_group():
    both = (("Group", "Command", "Keys"), ("File", "Close", "F1"), ("Tab", "Close", "F2"))
    first = read(read_tables(csv(*both))[0])
    program = with_listed(blank(), first)
    again = read(read_tables(csv(("Group", "Command", "Keys"), ("Tab", "Close", "F3")))[0], program)
    assert [(r.command, r.what, r.found_by) for r in again.rows] == [("close-2", "changes", "its name and group")]
    other = read(read_tables(csv(("Group", "Command", "Keys"), ("Pane", "Close", "F3")))[0], program)
    assert [r.what for r in other.rows] == ["adds"]


def test_what_cannot_be_read_says_where_and_can_be_corrected_in_place():
    table = read_tables(
        csv(("Command", "Keys"), ("Save", "Ctrl+S"), ("Print", "as ever"), ("Undo", "Ctrl+K Ctrl+Z"), ("Save", "F2"))
    )[0]
    listing = read(table)
    assert [r.what for r in listing.rows] == ["adds", "unread", "adds", "unread"]
    assert listing.rows[1].faults[0].place == "row 3, keys"
    assert listing.rows[3].faults[0].says == "Row 2 is the same command, Save."
    assert listing.rows[2].guessed
    mended = read(table, corrections={3: {"keys": "Ctrl+P"}, 5: {"name": "Save as"}})
    assert [r.what for r in mended.rows] == ["adds"] * 4
    assert mended.rows[1].said["keys"] == {"windows": "Control+P"}
    assert len(with_listed(blank(), mended, {2, 3}).commands) == 2


def test_a_list_that_comes_again_finds_its_commands_and_keeps_what_people_changed_since():
    first = read(
        read_tables(csv(("Command", "Keys"), ("Save", "Ctrl+S"), ("Print", "Ctrl+P"), ("Undo", "Ctrl+Z"), ("Redo", "Ctrl+Y")))[
            0
        ]
    )
    program = with_listed(blank(), first)
    own = [
        {
            "id": c.id,
            "name": c.name,
            "keys": {"windows": "F8" if c.id in ("print", "undo") else write_keys(c.defaults_on("windows"))},
        }
        for c in program.commands
    ]
    edited = with_commands(program, own)
    again = csv(
        ("Command", "Keys"), ("Save the sheet", "Ctrl+S"), ("Print", "Ctrl+P"), ("Undo", "Ctrl+Shift+Z"), ("Find", "Ctrl+F")
    )
    table = read_tables(again)[0]
    listing = read(table, edited, last=first.said())
    by_name = {r.name: r for r in listing.rows}
    assert (by_name["Save the sheet"].what, by_name["Save the sheet"].found_by) == ("changes", "its keys and a similar name")
    assert by_name["Print"].what == "same"  # ours was changed, the list says what it said
    assert by_name["Undo"].what == "contradicts"
    assert [(d.now, d.then, d.taken) for d in by_name["Undo"].differs] == [("F8", "Control+Shift+Z", False)]
    assert (by_name["Find"].what, listing.missing) == ("adds", ("redo",))
    after = {c.id: c for c in with_listed(edited, listing).commands}
    assert (after["save-the-sheet"].was, write_keys(after["undo"].defaults_on("windows"))) == (("save",), "F8")
    assert "redo" in after
    chosen = read(table, edited, last=first.said(), corrections={4: {"take": "list"}})
    assert write_keys(with_listed(edited, chosen).commands[2].defaults_on("windows")) == "Control+Shift+Z"
    assert any("which stay: Redo" in s for s in told(listing, edited))


@given(st.lists(st.sampled_from(["Save", "Print", "Undo", "Find", "Close tab"]), unique=True, min_size=1), st.data())
def test_taking_a_list_twice_changes_nothing_the_second_time(names, data):
    keys = {n: data.draw(st.sampled_from(["Ctrl+S", "F5", "Alt, F, S", "—", "Ctrl+Shift+P"])) for n in names}
    table = read_tables(csv(("Command", "Group", "Keys"), *((n, "All", keys[n]) for n in names)))[0]
    listing = read(table)
    after = with_listed(blank(), listing)
    again = read(table, after, last=listing.said())
    assert {r.what for r in again.rows} == {"same"}
    assert with_listed(after, again) == after


def test_scopes_tasks_kinds_and_risk_are_read_by_name():
    heads = ("Command", "Keys", "Context", "Task", "Kind", "Risky", "Aliases")
    rows = (
        ("Send", "Ctrl+Enter", "Letter", "Print", "built-in", "ja", "Dispatch; Post"),
        ("Mark", "m", "Letter", "no such", "thing", "perhaps", ""),
    )
    listing = read(read_tables(csv(heads, *rows))[0])
    after = with_listed(blank(), listing)
    assert [(s.name, s.parent) for s in after.scopes[1:]] == [("Letter", "window")]
    send, mark = after.commands
    assert (send.scope, send.task, send.risky, send.other_words) == ("letter", "print-document", True, ("Dispatch", "Post"))
    assert (mark.scope, mark.task, mark.risky) == ("letter", None, False)
    states = {f: c.state for f, c in listing.rows[1].cells.items()}
    assert (states["task"], states["kind"], states["risky"]) == ("guessed", "guessed", "guessed")


def test_formulas_count_by_what_they_came_to_and_are_faults_where_they_never_did():
    book = Workbook()
    for row in (("Command", "Keys"), ("Save", '="Ctrl+"&"S"'), ("Print", "Ctrl+P")):
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    listing = read(read_tables(out.getvalue())[0])
    assert (listing.rows[0].what, listing.rows[0].faults[0].says) == ("unread", "Its formula was never calculated.")
    assert listing.rows[1].what == "adds"


PRINT = "<tr><td>Print</td><td>Ctrl+P</td></tr>"
HOSTILE = {
    "scripts": f"<table><tr><td>Save<script>steal()</script></td><td>Ctrl+S</td></tr>{PRINT}</table>",
    "never closed": "<table><tr><td>Save<td>Ctrl+S<tr><td>Print<td>Ctrl+P",
    "wide spans": f'<table><tr><td colspan="99999">Save</td></tr>{PRINT.replace("<td>", "<td rowspan=99999>", 1)}</table>',
}


@pytest.mark.parametrize("name", HOSTILE)
def test_a_page_gives_text_only_whatever_its_marks_say(name):
    rows = read_tables(HOSTILE[name].encode())[0].rows
    assert len(rows) == 2
    assert all("script" not in c and "steal" not in c for r in rows for c in r.cells)
    assert max(len(r.cells) for r in rows) <= 3


def test_nested_tables_of_megabytes_are_read_without_depth():
    tables = read_tables(("<table><tr><td>x" * 150_000 + "</table>" * 150_000).encode())
    assert sum(len(t.rows) for t in tables) <= 20


def test_hidden_marks_and_combining_letters_do_not_make_another_command():
    turned = "\u202eSave\u200b", "Cafe\u0301"
    listing = read(read_tables(csv(("Command", "Keys"), (turned[0], "Ctrl+S"), (turned[1], "Ctrl+K"), ("Café", "F2")))[0])
    assert listing.rows[0].name == "Save"
    assert listing.rows[2].what == "unread"  # the same command twice


def test_limits_are_told():
    with pytest.raises(SheetError, match="50,000") as refused:
        read_tables(b"Command,Keys\n" + b"Save,F1\n" * (MOST_ROWS + 1))
    assert refused.value.faults[0].place.startswith("row ")
    with pytest.raises(SheetError, match="MB"):
        read_tables(b"a,b\n", SheetLimits(packed=2))
    for nothing in (b"", b"\n\n", b"{}", b"[1, 2]", b"<p>no table</p>", b"{" * 100_000):
        with pytest.raises(SheetError):
            read_tables(nothing)


def test_a_name_that_no_document_can_hold_is_told_and_left_out():
    (table,) = read_tables(csv(("Command", "Keys"), ("long " * 41, "Ctrl+B"), ("Save", "Ctrl+S")))
    listing = read(table)
    assert [r.what for r in listing.rows] == ["unread", "adds"]
    assert "characters, and 200 are the most" in listing.rows[0].faults[0].says
    with_listed(blank(), listing)


@given(st.binary(max_size=400) | st.text(max_size=400).map(str.encode))
def test_no_file_breaks_the_reader(data):
    with contextlib.suppress(SheetError):
        for table in read_tables(data):
            with_listed(blank(), read(table))
