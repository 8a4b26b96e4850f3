"""`amberkey bundle`: made, looked into and verified from files alone; and clashes as SARIF."""

import io
import json
import pathlib
import zipfile

import jsonschema
import pytest

from amberkey.core.exchange.bundle import read_bundle
from amberkey.demo.load import DOCUMENTS
from tests.cli.test_command_line import COUNTERS, ask  # noqa: F401

HOUSE, TARIFFS = (str(DOCUMENTS / f"profile-{name}.json") for name in ("house", "tariffs"))
SCHEMA = pathlib.Path(__file__).with_name("sarif-2.1.0.schema.json")
"""Of the OASIS standard, version 2.1.0."""


@pytest.fixture
def here(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    return tmp_path


@pytest.fixture
def signed(ask, here):  # noqa: F811
    """A bundle that a second key signed, to which a first one handed over."""
    ask("bundle", "key", "--to", "first", "--card", "first.json", "--organisation", "Ferries")
    ask("bundle", "key", "--to", "second", "--before", "first", "--card", "second.json", "--organisation", "Ferries")
    words = ["--key", "second", "--before", "first", "--organisation", "Ferries"]
    assert ask("bundle", "make", HOUSE, TARIFFS, "--to", "b.zip", *words)[0] == 0
    return here / "b.zip"


def test_a_bundle_is_whose_key_signed_it(ask, signed):  # noqa: F811
    code, found, _ = ask("bundle", "verify", "b.zip", "--trust", "second.json", "--json")
    assert (code, found["signer"]["state"], found["signer"]["name"]) == (0, "known", "Ferries")
    code, text, _ = ask("bundle", "verify", "b.zip", "--trust", "first.json")
    assert code == 0
    assert "with a key that followed the one given" in text
    code, text, _ = ask("bundle", "verify", "b.zip")
    assert code == 1
    assert "key that wasn't given" in text
    ask("bundle", "make", HOUSE, "--to", "plain.zip")
    code, text, _ = ask("bundle", "verify", "plain.zip", "--trust", "first.json")
    assert code == 1
    assert "Nobody signed it" in text


def test_equal_documents_make_equal_bundles(ask, signed):  # noqa: F811
    words = ["--key", "second", "--before", "first", "--organisation", "Ferries"]
    ask("bundle", "make", TARIFFS, HOUSE, "--to", "again.zip", *words, "--name", "House")
    one, other = read_bundle(signed.read_bytes()), read_bundle(pathlib.Path("again.zip").read_bytes())
    assert one.manifest.parts == other.manifest.parts
    assert one.files == other.files
    ask("bundle", "make", HOUSE, TARIFFS, "--to", "again.zip", *words)
    assert pathlib.Path("again.zip").read_bytes() == signed.read_bytes()


def test_what_is_in_it_is_told(ask, signed):  # noqa: F811
    code, found, _ = ask("bundle", "inspect", "b.zip", "--json")
    assert code == 0
    manifest = found["manifest"]
    assert [p["id"] for p in manifest["parts"]] == ["house", "tariffs"]
    # Two profiles that say something of one program have a file of it each.
    files = {(f["profile"], f["program"], f["platform"]) for f in manifest["files"]}
    assert {("house", "quaysheet", "windows"), ("tariffs", "quaysheet", "windows")} <= files
    _, text, _ = ask("bundle", "inspect", "b.zip")
    assert "Hewer on Linux, as a settings file: Where it keeps its keys isn't described." in text
    assert "files/house/windows/quaysheet/" in text


def test_a_settings_file_of_it_is_of_use_without_us(ask, signed):  # noqa: F811
    with zipfile.ZipFile(signed) as archive:
        name = next(n for n in archive.namelist() if n.startswith("files/house/windows/quaysheet/"))
        pathlib.Path("settings.json").write_bytes(archive.read(name))
    program = str(DOCUMENTS / "program-quaysheet.json")
    code, found, _ = ask("convert", "settings.json", "--program", program, "--platform", "windows", "--json")
    wanted = {e["command"] for e in json.loads(pathlib.Path(HOUSE).read_text())["entries"] if e["program"] == "quaysheet"}
    assert (code, set(found["entries"])) == (0, wanted)


def test_launchers_stay_unless_somebody_vouches_for_them(ask, here):  # noqa: F811
    ask("bundle", "make", HOUSE, "--to", "b.zip")
    found = read_bundle((here / "b.zip").read_bytes())
    (launcher,) = json.loads(pathlib.Path(HOUSE).read_text())["launchers"]
    assert found.documents[0].launchers == ()
    assert found.manifest.parts[0].silent == (f"launchers: {launcher['id']}",)
    assert f"The launcher {launcher['name']}" in [s.what for s in found.manifest.stays]
    assert [(f.section, f.lives, f.goes) for f in found.manifest.fares if f.section == "launchers"] == [
        ("launchers", "machine", "waits")
    ]
    assert "Of the profiles:" in ask("bundle", "inspect", "b.zip")[1]
    ask("bundle", "make", HOUSE, "--to", "b.zip", "--vouch")
    assert [v.id for v in read_bundle((here / "b.zip").read_bytes()).documents[0].launchers] == [launcher["id"]]


def test_only_some_sections(ask, here):  # noqa: F811
    assert ask("bundle", "make", HOUSE, "--to", "b.zip", "--sections", "launchers,remaps")[0] == 0
    part = read_bundle((here / "b.zip").read_bytes()).manifest.parts[0]
    assert part.sections == ("launchers", "remaps")
    assert "only launchers, remaps" in ask("bundle", "inspect", "b.zip")[1]


def test_a_secret_key_is_its_owners_alone_and_never_written_over(ask, here):  # noqa: F811
    assert ask("bundle", "key", "--to", "k")[0] == 0
    assert (here / "k").stat().st_mode & 0o077 == 0
    before = (here / "k").read_text()
    code, _, error = ask("bundle", "key", "--to", "k")
    assert code == 2
    assert "k can't be written" in error
    assert (here / "k").read_text() == before


def test_what_was_changed_is_refused(ask, signed):  # noqa: F811
    out = io.BytesIO()
    with zipfile.ZipFile(signed) as old, zipfile.ZipFile(out, "w") as new:
        for info in old.infolist():
            body = old.read(info)
            new.writestr(info.filename, body.replace(b"ctl-f", b"ctl-g") if "quaysheet" in info.filename else body)
    signed.write_bytes(out.getvalue())
    code, _, error = ask("bundle", "verify", "b.zip", "--trust", "first.json")
    assert code == 2
    assert "digest is wrong" in error


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (["verify", "nothing.zip"], "nothing.zip can't be read"),
        (["verify", HOUSE], "can't be opened as a zip file"),
        (["make", "nothing.json", "--to", "b.zip"], "nothing.json can't be read"),
        (["make", HOUSE, "--to", "no/where/b.zip"], "can't be written"),
        (["make", HOUSE, HOUSE, "--to", "b.zip"], "Two of the documents are the same one"),
        (["make", HOUSE, "--to", "b.zip", "--sections", "poems"], "no section poems"),
        (["make", HOUSE, "--to", "b.zip", "--key", HOUSE], "64 hexadecimal digits"),
        (["make", HOUSE, "--to", "b.zip", "--key", "nothing"], "nothing can't be read"),
        (["verify", "b.zip", "--trust", HOUSE], "no public key"),
        (["make"], "required"),
        ([], "required"),
    ],
)
def test_wrong_use_is_told_in_a_line(ask, here, words, says):  # noqa: F811
    ask("bundle", "make", HOUSE, "--to", "b.zip")
    code, _, error = ask("bundle", *words)
    assert code == 2
    assert says in error
    assert error.count("\n") == 1


def test_clashes_are_valid_sarif_at_the_lines_that_make_them(ask, here):  # noqa: F811
    code, answer, _ = ask("check", COUNTERS, "--sarif", "out.sarif", "--json")
    log = json.loads((here / "out.sarif").read_text())
    jsonschema.Draft4Validator(json.loads(SCHEMA.read_text())).validate(log)
    (run,) = log["runs"]
    assert code == 1
    assert [r["partialFingerprints"]["clashIdentity/v1"] for r in run["results"]] == [c["identity"] for c in answer["clashes"]]
    rules = [r["id"] for r in run["tool"]["driver"]["rules"]]
    levels = {"blocker": "error", "high": "error", "medium": "warning", "low": "note"}
    placed = 0
    for result, clash in zip(run["results"], answer["clashes"], strict=True):
        assert rules[result["ruleIndex"]] == result["ruleId"] == clash["kind"]
        assert result["level"] == levels[clash["severity"]]
        assert clash["says"] in result["message"]["text"]
        place = result["locations"][0]
        if "region" in place["physicalLocation"]:
            uri = place["physicalLocation"]["artifactLocation"]["uri"]
            lines = pathlib.Path(uri.removeprefix("file://")).read_text().splitlines()
            command = place["logicalLocations"][0]["fullyQualifiedName"].partition("/")[2]
            begins = place["physicalLocation"]["region"]["startLine"] - 1
            assert any(f'"{command}"' in line for line in lines[begins : begins + 4])
            placed += 1
    assert placed > len(run["results"]) / 2


def test_a_sarif_file_that_cannot_be_written_is_told(ask, here):  # noqa: F811
    code, _, error = ask("check", COUNTERS, "--sarif", "no/where.sarif")
    assert code == 2
    assert "no/where.sarif can't be written" in error
