"""Sheets in and out, and the lists of people, machines and uses in them."""

import csv
import io
import random
import shutil
import subprocess
import zipfile

import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook

from amberkey.core.compare.operations import apply
from amberkey.core.exchange.errors import SheetError
from amberkey.core.exchange.lists.cells import CellFault
from amberkey.core.exchange.lists.columns import COLUMNS, LIST_KINDS, guess
from amberkey.core.exchange.lists.reading import Known, ListReader
from amberkey.core.exchange.lists.writing import heads_of, rows_of
from amberkey.core.exchange.sheets import MOST_ROWS, Row, SheetLimits, read_heads, read_sheet
from amberkey.core.exchange.sheets_out import SHEET_FORMS, write_csv, write_sheet, write_xlsx
from amberkey.core.organisation.pseudonyms import is_pseudonym
from amberkey.core.programs.reference import system_tables
from tests.core.organisations import drawn, machine, organisation, read

KNOWN = Known(
    {(p.id, p.version): p for p in system_tables()},
    {i: i.title() for i in ("house", "harbour", "control", "pilot", "clerk", "ada", "kiosk", "own")},
)
PEOPLE = ("Name", "Department", "Roles", "Machines", "Stands for")


def sheet(*rows, heads=PEOPLE):
    return read_sheet(write_csv(heads, rows))


def reading(kind, given_sheet, value=None):
    found = read(value or organisation())
    reader = ListReader(kind, guess(kind, given_sheet.heads), found, KNOWN)
    return [reader.read(row, row.number in given_sheet.bad) for row in given_sheet.rows]


def faults(kind, *rows, heads=PEOPLE, value=None):
    return [(f.place, f.says) for r in reading(kind, sheet(*rows, heads=heads), value) for f in r.faults]


cells = st.text(st.characters(codec="utf-8", exclude_categories=("Cc", "Cs")), max_size=12).map(str.strip)


@given(st.lists(st.lists(cells, min_size=3, max_size=3), max_size=5), st.sampled_from(SHEET_FORMS))
def test_what_is_written_is_read_again(rows, form):
    rows = [tuple(c for c in row) for row in rows if any(row)]
    heads = ("One", "Two", "Three")
    data = write_sheet(form, heads, rows, "List")
    found = read_sheet(data)
    assert found.heads == heads
    assert [r.cells for r in found.rows] == rows
    assert found.faults == ()


FORMULAS = ["=1+1", "@SUM(A1)", "-2", "+", "'=1+1", "''-", "'quoted'", "'", "''", '="a"&"b"', "- bc", "\u2212 2"]


@pytest.mark.parametrize("form", SHEET_FORMS)
def test_no_cell_that_goes_out_is_a_formula(form):
    data = write_sheet(form, ("Name", "Other"), [(f, "x") for f in FORMULAS], "x")
    assert [r.cells[0] for r in read_sheet(data).rows] == FORMULAS
    if form == "xlsx":
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            assert b"<f>" not in packed.read("xl/worksheets/sheet1.xml")
    elif form == "ods":
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            content = packed.read("content.xml")
            assert b"formula=" not in content
            assert b'office:value-type="float"' not in content
    else:
        assert data.decode("utf-8-sig").splitlines()[1:4] == ["'=1+1,x", "'@SUM(A1),x", "'-2,x"]


def test_the_headings_stay_in_sight_and_columns_are_as_wide_as_they_read_well():
    rows = [("short", "x" * 300)]
    with zipfile.ZipFile(io.BytesIO(write_sheet("xlsx", ("A", "B"), rows, "x"))) as packed:
        xml = packed.read("xl/worksheets/sheet1.xml")
        assert b'topLeftCell="A2"' in xml
        assert b'width="60"' in xml
    with zipfile.ZipFile(io.BytesIO(write_sheet("ods", ("A", "B"), rows, "x"))) as packed:
        assert b"VerticalSplitPosition" in packed.read("settings.xml")
        assert b'column-width="12.60cm"' in packed.read("content.xml")
        assert b"Feuille" not in b"".join(packed.read(n) for n in packed.namelist() if n.endswith(".xml"))


@pytest.mark.parametrize("form", SHEET_FORMS)
@pytest.mark.parametrize("title", ["", "[a]:*?/\\'", "x" * 80, "Länder & <Leute>"])
def test_whatever_a_sheet_is_called_it_can_be_read(form, title):
    assert read_sheet(write_sheet(form, ("A",), [("b",)], title)).rows[0].cells == ("b",)


@pytest.mark.parametrize("form", SHEET_FORMS)
def test_blanks_lines_and_odd_characters_come_back(form):
    texts = ["a  b", "a   b", "one\ntwo", "tab\there", "<&>\"'", "\U0001f600", "ä\u0301", "x\x07y"]
    back = [r.cells[0] for r in read_sheet(write_sheet(form, ("A", "B"), [(t, "x") for t in texts], "x")).rows]
    # What no XML may hold is left out there.
    assert back == (texts if form == "csv" else [*texts[:-1], "xy"])


@pytest.mark.skipif(shutil.which("soffice") is None, reason="LibreOffice is not installed")
def test_what_libreoffice_shows_is_what_was_written(tmp_path):
    heads = ("Keys", "In words", "More")
    rows = [
        (f, f"{f} in words", " ".join([f] * 3)) for f in [*FORMULAS, "1/2", "1e5", "007", "TRUE", "2026-11-29", "50 %", "ä"]
    ]
    for form in ("ods", "xlsx"):
        (tmp_path / f"{form}-sheet.{form}").write_bytes(write_sheet(form, heads, rows, "Sheet"))
    profile = (tmp_path / "profile").as_uri()
    files = [str(tmp_path / f"{form}-sheet.{form}") for form in ("ods", "xlsx")]
    # 76 is UTF-8; the last flag but two asks for what the cells show.
    asked = "csv:Text - txt - csv (StarCalc):44,34,76,1,,0,false,true,false"
    command = [
        "soffice",
        f"-env:UserInstallation={profile}",
        "--headless",
        "--convert-to",
        asked,
        "--outdir",
        str(tmp_path),
        *files,
    ]
    subprocess.run(command, check=True, capture_output=True, timeout=180)
    for form in ("ods", "xlsx"):
        with (tmp_path / f"{form}-sheet.csv").open(encoding="utf-8", newline="") as file:
            shown = [tuple(row) for row in csv.reader(file)]
        # An apostrophe that a text begins with is written twice where one would be taken for a mark.
        wanted = [tuple(f"'{c}" if c.startswith("'") and c.lstrip("'")[:1] in ("=", "-") else c for c in r) for r in rows]
        assert shown == [heads, *wanted], form


def test_formulas_that_come_in_are_faults_with_their_place():
    book = Workbook()
    book.active.append(["Name", "Department"])
    book.active.append(["Ada", '=HYPERLINK("http://example.org")'])
    book.active.append(["Bo", "harbour"])
    out = io.BytesIO()
    book.save(out)
    found = read_sheet(out.getvalue())
    assert [(f.place, f.says) for f in found.faults] == [("row 2, column 2", "There is a formula in the cell.")]
    assert read_sheet(b"Name,Department\nAda,=1+1\n").bad == {2}
    assert [r.what for r in reading("people", found)] == ["fault", "adds"]


@pytest.mark.parametrize("separator", [",", ";", "\t"])
def test_the_separator_is_found(separator):
    data = f"Name{separator}Department\nAda{separator}harbour\n".encode()
    assert read_sheet(data).rows[0].cells == ("Ada", "harbour")


def test_rows_in_a_wrong_encoding_are_told_and_the_others_read():
    data = "Name,Department\nBo,harbour\nJörg,harbour\nZoë,harbour\n".encode("latin-1")
    found = read_sheet(data)
    assert [f.place for f in found.faults] == ["row 3", "row 4"]
    assert [r.what for r in reading("people", found)] == ["adds", "fault", "fault"]
    assert read_sheet("Name\nJörg\n".encode("utf-16")).rows[0].cells == ("Jörg",)


@pytest.mark.parametrize(
    "data, says",
    [
        (b"", "The sheet is empty"),
        (b"\n\n", "The sheet is empty"),
        (b"PK\x03\x04 broken", "can't be read"),
        (b"\x00\x01\x02", "neither CSV nor XLSX"),
        (("," * 200).encode(), "is empty"),
        (("a," * 200).encode(), "is the most"),
        (b"\xff\xfea", "not UTF-16"),
    ],
)
def test_what_is_no_sheet_is_refused(data, says):
    with pytest.raises(SheetError, match=says):
        read_sheet(data)


def test_twenty_thousand_rows_are_read_and_far_more_are_refused():
    rows = [(f"P {n}", "harbour") for n in range(20_000)]
    found = reading("people", sheet(*rows, heads=("Name", "Department")))
    assert len(found) == 20_000
    assert {r.what for r in found} == {"adds"}
    with pytest.raises(SheetError, match="Split the sheet"):
        read_sheet(b"Name\n" + b"x\n" * (MOST_ROWS + 1))


def test_a_row_with_too_many_cells_is_a_fault():
    assert [f.place for f in read_sheet(b"Name,Department\nAda,harbour,more\n").faults] == ["row 2"]


def test_headings_are_matched_in_several_languages():
    assert guess("people", ("Nummer", "Namn", "Abteilung", "Rôle", "whatever")) == {
        "id": 0,
        "name": 1,
        "department": 2,
        "roles": 3,
    }
    assert guess("machines", ("Host", "OS", "Edition", "Layout", "Keyboard")) == {
        "name": 0,
        "platform": 1,
        "edition": 2,
        "layouts": 3,
        "body": 4,
    }


def test_each_column_is_guessed_from_its_own_title():
    for kind in LIST_KINDS:
        assert guess(kind, heads_of(kind)) == {c.id: n for n, c in enumerate(COLUMNS[kind])}


def test_rows_add_change_and_leave():
    found = reading(
        "people",
        sheet(
            ("Ada", "Control room", "pilot; clerk", "one", ""),
            ("Desk", "harbour", "", "two", "7"),
            ("Bo Vik", "harbour", "Pilot", "one; two", ""),
        ),
    )
    assert [(r.what, r.name, r.fields) for r in found] == [
        ("same", "Ada", ()),
        ("changes", "Desk", ("stands_for",)),
        ("adds", "Bo Vik", ("machines",)),
    ]
    bo = found[2].key
    assert is_pseudonym(bo)
    assert [(o.section, o.key) for o in found[2].operations] == [
        ("people", bo),
        ("seats", f"{bo} at one"),
        ("seats", f"{bo} at two"),
    ]


def test_a_column_that_isnt_there_changes_nothing():
    (found,) = reading("people", sheet(("Desk", "control"), heads=("Name", "Department")))
    assert found.operations[0].after["stands_for"] == 5
    assert found.fields == ("department",)


def test_every_fault_of_a_row_is_told():
    assert faults("people", ("Bo", "Harbor", "cook", "nine", "many")) == [
        ("row 2, Department", "There is no department Harbor."),
        ("row 2, Roles", "There is no role cook."),
        ("row 2, Stands for", "many is no whole number."),
        ("row 2, Machines", "There is no machine nine."),
    ]


def test_doubled_rows_and_doubled_names_are_faults():
    assert faults("people", ("Bo", "harbour", "", "", ""), ("bo", "harbour", "", "", "")) == [
        ("row 3", "bo stands in row 2 already.")
    ]
    people = [{"id": i, "name": "Ada", "department": "harbour"} for i in ("a", "b")]
    assert faults("people", ("Ada", "harbour", "", "", ""), value=organisation(people=people, seats=[])) == [
        ("row 2", "Ada is the name of a and b.")
    ]


MACHINES = ("Name", "Platform", "Edition", "Layouts", "Keyboard body", "Programs")


@pytest.mark.parametrize(
    "row, place, says",
    [
        (("Q", "Windows", "Pro", "", "iso", "windows 11"), "row 2", "Layouts is empty"),
        (("Q", "Windows", "Pro", "de", "", "windows 11"), "row 2", "Keyboard body is empty"),
        (("Q", "Plan", "Pro", "de", "iso", "windows 11"), "row 2, Platform", "no platform Plan"),
        (("Q", "Windows", "Pro", "Klingon", "iso", "windows 11"), "row 2, Layouts", "no keyboard layout Klingon"),
        (("Q", "Linux", "any", "de(mac)", "iso", "linux desktop"), "row 2, Layouts", "no keyboard layout de(mac)"),
        (("Q", "Windows", "Pro", "de", "round", "windows 11"), "row 2, Keyboard body", "no keyboard body round"),
        (("Q", "Windows", "Pro", "de", "iso", "windows 3"), "row 2, Programs", "names no version"),
        (("Q", "Windows", "Pro", "de", "iso", "sheets 3"), "row 2, Programs", "no program sheets"),
        (("Q", "Windows", "Pro", "de", "iso", "macos 15"), "row 2, programs", "doesn't run on Windows"),
    ],
)
def test_a_machine_that_cant_be_is_refused(row, place, says):
    found = faults("machines", row, heads=MACHINES)
    assert found[0][0] == place
    assert says in found[0][1]


def test_a_machine_is_read_by_names():
    row = ("Q 1", "windows", "Windows 11 Pro", "German; 00000809", "ISO, with numeric pad", "windows 11")
    (found,) = reading("machines", sheet(row, heads=MACHINES))
    after = found.operations[0].after
    assert (after["id"], after["edition"], after["layouts"]) == ("q-1", "Windows 11 Pro", ["de", "gb"])
    assert after["body"] == "iso"


def test_uses_need_all_their_columns():
    with pytest.raises(CellFault, match="Times a week"):
        reading("uses", sheet(("pilot", "windows", "lock"), heads=("Role", "Program", "Command")))
    heads = ("Role", "Program", "Command", "Times a week")
    found = reading("uses", sheet(("Pilot", "Windows", "lock", "12"), ("pilot", "windows", "nothing", "x"), heads=heads))
    assert found[0].operations[0].after == {"role": "pilot", "program": "windows", "command": "lock", "weekly": 12}
    assert len(found[1].faults) == 2


@given(st.integers(0, 2**31), st.sampled_from(["people", "machines"]), st.sampled_from(SHEET_FORMS))
def test_reading_what_was_written_changes_nothing(number, kind, form):
    value = drawn(random.Random(number))
    value["machines"].append(machine("extra", programs=[{"id": "windows", "version": "11"}], numlock=False))
    rows = list(rows_of(kind, read(value)))
    data = write_sheet(form, heads_of(kind), rows, kind)
    assert {(r.what, r.operations) for r in reading(kind, read_sheet(data), value)} <= {("same", ())}


@given(st.integers(0, 2**31))
def test_what_is_taken_from_a_list_makes_the_list(number):
    """People of one organisation, brought into another one: afterwards that one writes the same rows."""
    value = drawn(random.Random(number))
    rows = list(rows_of("people", read(value)))
    empty = {**value, "people": [], "seats": []}
    found = reading("people", sheet(*rows, heads=heads_of("people")), empty)
    done = read(apply(read(empty).to_json(), [o for r in found for o in r.operations]))
    assert list(rows_of("people", done)) == rows


def test_a_row_is_counted_as_the_sheet_counts():
    found = read_sheet(b'Name,Department\n"Ada\nof the quay",harbour\nBo,nowhere\n')
    assert [r.number for r in found.rows] == [2, 4]
    assert Row(2, ("Ada\nof the quay", "harbour")) == found.rows[0]


def packed(**members):
    """A sheet whose members are replaced or added."""
    sheet_bytes = write_xlsx(("Name", "Department"), [("Ada", "harbour")] * 40, "List")
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(sheet_bytes)) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for info in old.infolist():
            name = info.filename.rpartition("/")[2].removesuffix(".xml")
            data = old.read(info)
            new.writestr(info.filename, members.pop(name)(data) if name in members else data)
        for name, make in members.items():
            new.writestr(f"xl/{name}.xml", make(b""))
    return out.getvalue()


@pytest.mark.parametrize(
    "data, limits, place, says",
    [
        (packed(sheet1=lambda d: d + b" " * 20_000_000), SheetLimits(), "xl/worksheets/sheet1.xml", "blows up"),
        (packed(sharedStrings=lambda d: random.Random(1).randbytes(9_000)), SheetLimits(shared=8_000), "", "texts have"),
        (packed(), SheetLimits(unpacked=1_000), "", "too large when unpacked"),
        (packed(), SheetLimits(parts=3), "", "too large when unpacked"),
        (packed(), SheetLimits(packed=1_000), "", "is the most"),
        (packed(), SheetLimits(lines=20), "row 21", "more than 20 lines"),
        (packed(sheet1=lambda d: d.replace(b'r="30"', b'r="900000000"', 1)), SheetLimits(), "row 200001", "200,000 lines"),
        (packed(sheet1=lambda d: d[: len(d) * 3 // 4]), SheetLimits(), "", "can't be read"),
        (packed(sheet1=lambda d: d.replace(b"Ada", b"&bomb;", 1)), SheetLimits(), "", "can't be read"),
    ],
)
def test_sheets_that_would_be_too_much_or_break_late_are_refused(data, limits, place, says):
    with pytest.raises(SheetError, match=says) as refused:
        read_sheet(data, limits)
    assert refused.value.faults[0].place.startswith(place)


def test_what_sheets_may_hold_is_held():
    limits = SheetLimits(packed=len(packed()), lines=41, parts=9, ratio=30)
    assert len(read_sheet(packed(), limits).rows) == 40
    heads, first = read_heads(packed(), limits=limits)
    assert (heads, len(first)) == (("Name", "Department"), 3)
    assert len(read_sheet(("a," * 99 + "a\n").encode()).heads) == 100
    with pytest.raises(SheetError, match="101 columns"):
        read_sheet(("a," * 100 + "a\n").encode())
