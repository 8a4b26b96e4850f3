"""The command line: its shapes, its exit codes, and no traceback whatever is asked."""

import json
import pathlib
import subprocess
import sys

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from amberkey.cli.__main__ import main
from tests.example import DOCUMENTS

ROOT = pathlib.Path(__file__).parents[2]
COUNTERS = str(DOCUMENTS / "setup-ticket-counters.json")


@pytest.fixture
def ask(capsys):
    """(exit code, the answer) of a command; the answer is read where JSON was asked for."""

    def run(*words):
        code = main(words)
        out = capsys.readouterr()
        assert "Traceback" not in out.err
        return code, json.loads(out.out) if "--json" in words else out.out, out.err

    return run


def test_a_layout_has_four_levels_a_key_with_their_sources(ask):
    code, answer, _ = ask("layout", "de", "--platform", "windows", "--json")
    assert (code, answer["layout"], answer["platform"]) == (0, "de", "windows")
    assert answer["keys"]["KeyE"] == {
        "plain": {"text": "e", "source": "derived"},
        "shift": {"text": "E", "source": "derived"},
        "altgr": {"text": "€", "source": "recorded"},
        "shift_altgr": None,
    }
    assert answer["keys"]["Equal"]["plain"] == {"dead": "´", "source": "derived"}
    assert ask("layout", "us(mac)", "--json")[1]["keys"]["KeyE"]["altgr"] == {"dead": "´", "source": "recorded"}


def test_a_press_names_its_strokes(ask):
    code, answer, _ = ask("press", "Control+/", "--layout", "de", "--platform", "windows", "--reads", "character", "--json")
    assert code == 0
    assert (answer["canonical"], answer["words"], answer["types"]) == ("Control+/", "Strg /", None)
    assert answer["strokes"] == [[{"code": "Digit7", "modifiers": ["Control", "Shift"]}]]
    assert answer["reach"]["score"] > 0


def test_a_press_that_types_says_what_and_one_that_nobody_makes_is_a_finding(ask):
    assert ask("press", "AltGraph+E", "--layout", "de", "--json")[1]["types"] == "€"
    assert ask("press", "code:Equal", "--layout", "de", "--json")[1]["accent"] == "´"
    code, answer, _ = ask("press", "Control+^", "--layout", "de", "--json")
    assert (code, answer["strokes"]) == (1, [])
    assert "dead key" in answer["unreachable"]


def test_a_sequence_has_one_stroke_a_press(ask):
    answer = ask("press", "F8 then Control+L", "--json")[1]
    assert [[s["code"] for s in way] for way in answer["strokes"]] == [["F8", "KeyL"]]


def test_several_shortcuts_and_layouts_in_one_call(ask):
    code, answers, _ = ask("press", "Control+Z", "Control+Y", "--layout", "de", "--layout", "us", "--reads", "key", "--json")
    assert code == 0
    assert [a["strokes"][0][0]["code"] for a in answers] == ["KeyY", "KeyZ", "KeyZ", "KeyY"]
    assert [a["layout"] for a in ask("layout", "de", "us", "--json")[1]] == ["de", "us"]
    assert [a["layout"] for a in ask("press", "F1", "--layout", "de,fr(azerty)", "--json")[1]] == ["de", "fr(azerty)"]


def test_layouts_are_listed(ask):
    assert len(ask("layout", "--json")[1]["layouts"]) == 24
    assert "fr(azerty)" in ask("layout")[1]


def test_the_clashes_of_a_setup(ask):
    code, answer, _ = ask("check", COUNTERS, "--json")
    kinds = {c["kind"] for c in answer["clashes"]}
    assert (code, answer["setup"]) == (1, "ticket-counters")
    assert {"system_fixed", "browser", "swallows_text", "same_scope"} <= kinds
    first = next(c for c in answer["clashes"] if c["kind"] == "browser" and c["severity"] == "blocker")
    assert (first["holder"]["command"], first["loser"]["command"]) == ("close-tab", "close-leg")
    assert len(first["identity"]) == 16


def test_clashes_come_with_their_ways_out(ask):
    answer = ask("check", COUNTERS, "--ways", "--json")[1]
    quote = next(c for c in answer["clashes"] if (c["holder"] or {}).get("command") == "quote-fare")
    assert {w["way"] for w in quote["ways"]} >= {"move", "allow"}
    assert quote["ways"][0]["makes"] == []
    assert quote["identity"] in quote["ways"][0]["solves"]


def test_only_what_a_profile_would_bring(ask, tmp_path):
    before = {"format": "amberkey/profile@1", "id": "house", "name": "House"}
    (tmp_path / "house.json").write_text(json.dumps(before))
    code, answer, _ = ask("check", COUNTERS, "--before", str(tmp_path / "house.json"), "--json")
    assert (code, answer["clashes"]) == (0, [])
    clashing = {"program": "quaysheet", "command": "filter", "platform": "windows", "shortcuts": [{"keys": "F11"}]}
    (tmp_path / "profile-house.json").write_text(json.dumps({**before, "entries": [clashing]}))
    more = ["--with", str(tmp_path / "profile-house.json"), "--before", str(tmp_path / "house.json")]
    code, answer, _ = ask("check", COUNTERS, *more, "--json")
    assert (code, [c["kind"] for c in answer["clashes"]]) == (1, ["same_scope"])


def test_the_way_of_a_press(ask):
    code, answer, _ = ask("trace", COUNTERS, "Control+Alt+8", "--focus", "quaysheet/sheet", "--json")
    assert code == 0
    assert answer["effect"]["by"]["command"] == "split-row"
    assert [s["station"] for s in answer["stations"]] == ["remap", "system_fixed", "intercept", "system", "program"]
    typed = ask("trace", COUNTERS, "Control+Alt+7", "--focus", "folioform/page", "--json")[1]
    assert (typed["effect"]["kind"], typed["effect"]["text"]) == ("text", "{")


def test_several_focuses_and_sequences(ask):
    answers = ask("trace", COUNTERS, "F8 then B", "--focus", "folioform/page", "--focus", "quaysheet/sheet", "--json")[1]
    assert [a["effect"]["kind"] for a in answers] == ["command", "text"]
    assert [p["effect"]["kind"] for p in answers[0]["presses"]] == ["wait", "command"]


def test_people_get_words(ask):
    assert "Strg Alt E types € on the German keyboard" in ask("check", COUNTERS)[1]
    assert "=> Split the row (Quaysheet)" in ask("trace", COUNTERS, "Control+Alt+8", "--focus", "quaysheet/sheet")[1]
    assert "Control+Shift+code:Digit7" in ask("press", "Control+/", "--layout", "de")[1]


@pytest.mark.parametrize(
    "words, says",
    [
        ([], "required"),
        (["press"], "required"),
        (["press", "ctrl+bakspace"], "Did you mean Control+Backspace"),
        (["press", ""], "nothing here"),
        (["press", " then ".join(["F8"] * 50)], "50 presses"),
        (["press", "F1", "--layout", "dvorkan"], "Known are"),
        (["press", "F1", "--layout", "de", "--platform", "macos"], "not one of macos"),
        (["press", "F1", "--body", "round"], "Known are"),
        (["press", "F1", "--platform", "elsewhere"], "invalid choice"),
        (["press", "Hyper+F1"], "No key is called"),
        (["layout", "dvorkan"], "Known are"),
        (["check", "nowhere.json"], "can't be read"),
        (["check", str(DOCUMENTS)], "is a folder"),
        (["check", str(DOCUMENTS / "profile-house.json")], "amberkey/setup@1 or amberkey/organisation@1 is wanted"),
        (["check", COUNTERS, "--with", "nowhere"], "isn't there"),
        (["check", COUNTERS, COUNTERS], "are called ticket-counters"),
        (["check", COUNTERS, "--today", "yesterday"], "no day"),
        (["trace", COUNTERS, "F1", "--focus", "attic"], "has no program"),
        (["trace", COUNTERS, "F1", "--focus", "quaysheet/attic"], "has no scope"),
        (["trace", COUNTERS, "ctrl+bakspace"], "Did you mean"),
    ],
)
def test_wrong_use_is_one_clear_line_and_code_2(ask, words, says):
    code, out, err = ask(*words)
    assert (code, out) == (2, "")
    assert says in err
    assert err.count("\n") == 1


def test_a_wrong_shortcut_carries_its_place_as_json(ask):
    code, answer, _ = ask("press", "ctrl+bakspace", "--json")
    fault = answer["error"]
    assert code == 2
    assert fault["text"][slice(*fault["span"])] == "bakspace"
    assert fault["guess"] == "Control+Backspace"


def setup_with(**change):
    return {**json.loads(pathlib.Path(COUNTERS).read_text()), **change}


@pytest.mark.parametrize(
    "content, says",
    [
        (b"", "not JSON"),
        (b"\xff\xfe", "not UTF-8"),
        (b"[" * 100_000, "nests deeper"),
        (b'{"format": "amberkey/setup@9"}', "made by a newer Amber Key"),
        (b'{"format": "amberkey/setup@1"}', "This field is missing"),
        (json.dumps(setup_with(layout="dvorkan")).encode(), "Known are"),
        (json.dumps(setup_with(programs=[{"id": "lost", "version": "1"}])).encode(), "program lost 1"),
        (json.dumps(setup_with(layers=["attic"])).encode(), "Looked for beside the setup"),
        (json.dumps(setup_with(colour="amber")).encode(), "no such field"),
    ],
)
def test_a_faulty_setup_is_told_with_its_place(ask, tmp_path, content, says):
    for path in DOCUMENTS.glob("*.json"):
        (tmp_path / path.name).write_bytes(path.read_bytes())
    (tmp_path / "mine.json").write_bytes(content)
    code, _, err = ask("check", str(tmp_path / "mine.json"))
    assert code == 2
    assert says in err


def test_a_faulty_file_beside_the_setup_does_no_harm_until_it_is_named(ask, tmp_path):
    for path in DOCUMENTS.glob("*.json"):
        (tmp_path / path.name).write_bytes(path.read_bytes())
    (tmp_path / "broken.json").write_text("{")
    setup = str(tmp_path / "setup-ticket-counters.json")
    assert ask("check", setup)[0] == 1
    (tmp_path / "program-quaysheet.json").write_text('{"format": "amberkey/program@1", "id": "quaysheet", "version": "7.2"}')
    code, _, err = ask("check", setup)
    assert code == 2
    assert "program-quaysheet.json" in err


@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(st.text(max_size=20), max_size=3), st.sampled_from(["press", "layout", "trace", "check"]))
def test_any_words_end_in_an_answer_or_one_line(ask, words, verb):
    code, _, err = ask(verb, *(w for w in words if w not in ("-h", "--help") and not w.startswith("-")))
    assert code in (0, 1, 2)
    assert (code == 2) == bool(err)


def test_the_real_command_answers_from_any_folder(tmp_path):
    (tmp_path / "mine.json").write_text(pathlib.Path(COUNTERS).read_text())
    run = lambda *words: subprocess.run(  # noqa: E731
        [str(ROOT / "amberkey"), *words], cwd=tmp_path, capture_output=True, text=True, stdin=subprocess.DEVNULL
    )
    assert json.loads(run("press", "Control+/", "--layout", "de", "--json").stdout)["canonical"] == "Control+/"
    done = run("check", "mine.json", "--with", str(DOCUMENTS), "--json")
    assert (done.returncode, json.loads(done.stdout)["setup"]) == (1, "ticket-counters")
    assert run("trace", "nowhere.json", "F1").returncode == 2


def test_reading_keys_needs_nothing_installed():
    """`press` and `layout` run on the standard library, so that they answer before anything is set up."""
    program = "import sys; sys.modules['pydantic'] = None; from amberkey.cli.__main__ import main; sys.exit(main())"
    for words in (["press", "Control+/"], ["layout", "de"]):
        done = subprocess.run([sys.executable, "-S", "-c", program, *words], cwd=ROOT / "src", capture_output=True, text=True)
        assert (done.returncode, done.stderr) == (0, "")


def test_an_organisation_is_checked_in_all_its_setups(ask):
    from amberkey.demo.load import DOCUMENTS as FERRIES

    code, answers, _ = ask("check", str(FERRIES / "organisation-organisation.json"), "--json")
    assert code == 1
    assert len(answers) == 39
    assert all(a["clashes"] for a in answers)
