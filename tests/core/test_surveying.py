"""What people have set for themselves: found in their files, counted, and proposed for the layer that it is something for."""

import io
import zipfile

import pytest

from amberkey.core.clashes.estate import Estate
from amberkey.core.exchange.errors import BundleError
from amberkey.core.exchange.from_people import from_people
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.organisation.deriving import derive
from amberkey.core.organisation.surveying import FromFile, own_changes, with_change
from amberkey.core.profiles.model import Entry, Given, Profile
from amberkey.core.programs.reference import system_tables
from tests.core.organisations import machine, organisation, read
from tests.core.test_several_files import program

KEYED = {
    "path": {"windows": "App/keys.ini"},
    "container": "ini",
    "at": ["keys"],
    "command": "name",
    "keys": {"at": "value"},
    "dialect": {"modifiers": {"Control": ["Ctrl+"], "Alt": ["Alt+"], "Shift": ["Shift+"]}},
}
APP = program(KEYED)
PEOPLE = [f"p{n}" for n in range(8)]


def crew():
    """Eight people: the first four in the control room, the last four in the harbour; two of each are pilots."""
    people = [
        {
            "id": p,
            "name": f"Person {n}",
            "department": "control" if n < 4 else "harbour",
            "roles": ["pilot"] if n % 4 < 2 else [],
        }
        for n, p in enumerate(PEOPLE)
    ]
    machines = [machine(f"m-{p}", programs=[*machine("x")["programs"], {"id": "app", "version": "3.2"}]) for p in PEOPLE]
    return read(organisation(people=people, machines=machines, seats=[{"person": p, "machine": f"m-{p}"} for p in PEOPLE]))


def estate_of(known, programs, layers):
    found = {(p.id, p.version): p for p in (*programs, *system_tables())}
    derived = derive(known, {p.id: p.name for p in found.values()})
    return Estate(derived.setups, found, {p.id: p for p in layers}), derived


def profiles(**entries):
    names = ("house", "harbour", "control", "pilot", "clerk")
    return [Profile(id=n, name=n.title(), entries=tuple(entries.get(n, ()))) for n in names]


def entry(command, keys):
    given = tuple(Given(keys=read_shortcut(k)) for k in keys)
    return Entry(program="app", command=command, platform="windows", shortcuts=given, over=())


def surveyed(said, **entries):
    """The own changes where `said` is what each person's file says: by person, keys of commands."""
    known = crew()
    estate, derived = estate_of(known, [APP], profiles(**entries))
    setups = {p: [estate.board(s).setup for s in derived.setups_of(person=p)] for p in PEOPLE}
    files = [
        FromFile(p, "app", "windows", {c: tuple(read_shortcut(k) for k in keys) for c, keys in commands.items()})
        for p, commands in said.items()
    ]
    return own_changes(files, setups, known)


def told(changes):
    return [(c.command, [str(s) for s in c.shortcuts], len(c.people), c.proposed) for c in changes]


def test_what_all_have_is_for_everybody_and_what_a_few_have_stays_theirs():
    said = {p: {"save": ["F2"]} for p in PEOPLE}
    said["p7"] = {"save": ["F2"], "open": ["F3"]}
    assert told(surveyed(said)) == [("save", ["F2"], 8, "house"), ("open", ["F3"], 1, "")]


def test_it_is_for_the_widest_profile_of_whose_people_half_have_it():
    said = {p: {} for p in PEOPLE} | {p: {"save": ["F2"]} for p in PEOPLE[:3]}
    (one,) = surveyed(said)
    assert one.proposed == "control"
    assert [(s.profile, s.having, s.seen) for s in one.layers] == [
        ("house", 3, 8),
        ("harbour", 3, 8),
        ("control", 3, 4),
        ("pilot", 2, 4),
    ]
    # Of whose files nothing was seen nobody counts.
    (few,) = surveyed({p: {"save": ["F2"]} for p in PEOPLE[:3]})
    assert few.proposed == "house"


def test_two_are_too_few_for_a_layer_however_small_it_is():
    (one,) = surveyed({"p0": {"save": ["F2"]}, "p1": {"save": ["F2"]}})
    assert one.proposed == ""


def test_what_a_layer_gives_is_nobodys_own_and_neither_is_it_in_another_order():
    given = {"control": [entry("save", ["F2", "F3"])]}
    said = {"p0": {"save": ["F3", "F2"]}, "p5": {"save": ["F3", "F2"]}}
    (one,) = surveyed(said, **given)
    assert one.people == ("p5",), "in the harbour nobody gave it"


def test_the_same_command_on_other_keys_is_another_change():
    found = surveyed({"p0": {"save": ["F2"]}, "p1": {"save": ["F3"]}, "p2": {"save": []}})
    assert sorted(str(o[1]) for o in told(found)) == ["['F2']", "['F3']", "[]"]
    assert len({c.id for c in found}) == 3


def test_a_program_that_a_person_does_not_have_counts_for_nothing():
    known = crew()
    estate, derived = estate_of(known, [APP], profiles())
    setups = {"p0": [estate.board(s).setup for s in derived.setups_of(person="p0")]}
    odd = [
        FromFile("p0", "other", "windows", {"x": ()}),
        FromFile("p0", "app", "macos", {"save": ()}),
        FromFile("who", "app", "windows", {"save": ()}),
    ]
    assert own_changes(odd, setups, known) == []


def test_a_profile_takes_a_change_in_place_of_what_it_said():
    (change,) = surveyed({"p0": {"save": ["F2"]}})
    before = Profile(id="house", name="House", entries=(entry("open", ["F9"]), entry("save", ["F8"])))
    after = with_change(before, change, APP)
    assert [(e.command, [str(g.keys) for g in e.shortcuts]) for e in after.entries] == [("open", ["F9"]), ("save", ["F2"])]
    assert with_change(after, change, APP) == after
    of_one = entry("save", ["F7"]).model_copy(update={"layouts": ("de",)})
    of_values = entry("save", ["F6"]).model_copy(update={"arguments": {"n": 1}})
    apart = Profile(id="house", name="House", entries=(of_one, of_values))
    assert with_change(apart, change, APP).entries[:2] == (of_one, of_values), "those for single layouts and values stay"
    fresh = with_change(Profile(id="own", name="Own"), change, APP)
    assert fresh.entries[0].over == APP.command("save").defaults_on("windows")


def packed(files):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for path, text in files.items():
            archive.writestr(path, text)
    return out.getvalue()


def test_files_in_a_zip_are_told_by_person_and_what_cannot_be_read_says_why():
    known = crew()
    programs = {p: [(APP, "windows")] for p in PEOPLE[:3]}
    text = "[keys]\nsave=F2\nopen=Ctrl+O\nunknown=F7\n"
    found, left = from_people(
        packed(
            {
                "p0/App/keys.ini": text,
                "person 1/anything.ini": text,
                "P2/keys.ini": "[keys]\n",
                "nobody/keys.ini": text,
                "keys.ini": text,
                "p0/holiday.txt": "what we did",
                "p7/keys.ini": text,
            }
        ),
        known,
        programs,
    )
    save = {"save": (read_shortcut("F2"),)}
    assert [(f.person, f.program, f.platform, dict(f.said)) for f in found] == [
        ("p0", "app", "windows", save),
        ("p1", "app", "windows", save),
        ("p2", "app", "windows", {}),
    ]
    assert [(n.path, n.says) for n in left] == [
        ("nobody/keys.ini", "Nobody is called nobody."),
        ("keys.ini", "It lies in no folder that is called like a person."),
        ("p0/holiday.txt", "No program of this person has a file that reads so."),
        ("p7/keys.ini", "No program of this person has a file that reads so."),
    ]


def test_a_file_that_cannot_be_unpacked_keeps_no_other_from_being_read():
    data = bytearray(packed({"p0/App/keys.ini": "[keys]\nsave=F2\n", "p1/App/keys.ini": "[keys]\nsave=F2\n"}))
    at = data.index(b"save=F2")
    data[at : at + 4] = b"evas"  # its checksum is another one now
    found, left = from_people(bytes(data), crew(), {p: [(APP, "windows")] for p in PEOPLE})
    assert ([f.person for f in found], [n.path for n in left]) == (["p1"], ["p0/App/keys.ini"])


def test_a_file_that_is_called_so_is_read_as_that_programs_whatever_else_would_read_it():
    other = program({**KEYED, "path": {"windows": "Other/other.ini"}}).model_copy(update={"id": "other", "name": "Other"})
    programs = {"p0": [(other, "windows"), (APP, "windows")]}
    found, _ = from_people(packed({"p0/keys.ini": "[keys]\nsave=F2\n", "p0/other.ini": "[keys]\nsave=F2\n"}), crew(), programs)
    assert [f.program for f in found] == ["app", "other"]


@pytest.mark.parametrize("name", ["../p0/x", "/p0/x", "p0/../../x", "p0\\x"])
def test_a_zip_that_leads_outside_is_refused_whole(name):
    with pytest.raises(BundleError, match="leads outside the zip file"):
        from_people(packed({name: "x"}), crew(), {})


def test_a_zip_that_blows_up_is_told_and_one_of_too_many_files_is_refused():
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("p0/App/keys.ini", b"0" * 20_000_000)
    found, left = from_people(out.getvalue(), crew(), {"p0": [(APP, "windows")]})
    assert (found, left[0].says) == ([], "This part blows up when it is unpacked.")
    with pytest.raises(BundleError, match="20000 is the most"):
        from_people(packed({f"p0/{n}": "" for n in range(20_001)}), crew(), {})


def test_what_is_no_zip_file_is_refused():
    with pytest.raises(BundleError, match="not a zip file"):
        from_people(b"PK nothing", crew(), {})
