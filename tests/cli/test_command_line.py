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


def test_a_sign_read_by_key_is_the_key_that_carries_it_and_marked_so(ask):
    for keys in ("Control+^", "Control+#"):
        code, answer, _ = ask("press", keys, "--layout", "de", "--reads", "key", "--json")
        assert (code, answer["derived"]) == (0, True)
        assert "is derived" in answer["note"]
    assert ask("press", "Control+A", "--layout", "de", "--reads", "key", "--json")[1]["derived"] is False


def test_a_side_is_told_with_its_key(ask):
    answer = ask("press", "rctrl a", "--json")[1]
    assert answer["canonical"] == "ControlRight+A"
    assert answer["strokes"] == [[{"code": "KeyA", "modifiers": ["ControlRight"]}]]


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
    assert len(ask("layout", "--json")[1]["layouts"]) == 60
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
    assert [s["station"] for s in answer["stations"]] == ["remap", "guarded", "intercept", "system", "program"]
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
        (["press", "F1", "--layout", "de", "--platform", "macos"], "not one of macOS"),
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
    assert len(answers) == 43
    assert all(a["clashes"] for a in answers)


def test_a_layout_that_nobody_knows_is_told_with_its_machine(ask, tmp_path):
    from amberkey.demo.load import DOCUMENTS as FERRIES

    document = json.loads((FERRIES / "organisation-organisation.json").read_text())
    document["machines"][2]["layouts"] = ["klingon"]
    file = tmp_path / "organisation.json"
    file.write_text(json.dumps(document))
    code, answer, _ = ask("check", str(file), "--json")
    assert code == 2
    where = f"machines[{document['machines'][2]['id']}].layouts[0]"
    assert [f["place"] for f in answer["error"]["faults"]] == [where]


def test_an_edition_that_no_table_knows_is_told(ask, tmp_path):
    for file in DOCUMENTS.glob("*.json"):
        (tmp_path / file.name).write_bytes(file.read_bytes())
    counters = tmp_path / "setup-ticket-counters.json"
    document = json.loads(counters.read_text())
    assert ask("check", str(counters), "--json")[1]["unknown"] == []
    counters.write_text(json.dumps({**document, "edition": "Tidal"}))
    (told,) = ask("check", str(counters), "--json")[1]["unknown"]
    assert "knows no edition Tidal; it knows Home, Pro" in told


STANDARD = ROOT / "docs/standard"
SETUPS = [str(STANDARD / f"setup-{s}.json") for s in ("counters", "desk")]


def test_coverage_counts_plainly_and_by_people(ask):
    code, answer, _ = ask("coverage", str(STANDARD / "standard.json"), *SETUPS, "--json")
    assert code == 1
    assert answer["whole"] == {
        "agree": 11,
        "could": 19,
        "share": 11 / 19,
        "people_agree": 86,
        "people_could": 148,
        "people_share": 86 / 148,
    }
    assert answer["states"] == {"cannot": 2, "excepted": 2, "unbound": 1, "differs": 5, "clashes": 2, "agrees": 11}
    assert {
        "setup": "desk",
        "program": "linewise",
        "task": "find-next",
        "state": "cannot",
        "why": "it refuses F3",
    } in answer["open"]


def test_coverage_of_a_compiled_standard_and_in_words(ask):
    code, answer, _ = ask("coverage", str(STANDARD / "standard.json"), *SETUPS, "--compiled", "--json")
    assert (code, answer["whole"]["agree"], answer["compiled"]) == (1, 15, True)
    code, text, _ = ask("coverage", str(STANDARD / "standard.json"), *SETUPS, "--tasks")
    assert text.splitlines()[2].split() == ["everything", "11", "19", "57.9", "%", "58.1", "%"]
    assert "Find the one before" in text


def test_coverage_refuses_what_is_no_standard(ask):
    code, _, error = ask("coverage", SETUPS[0], SETUPS[1])
    assert code == 2
    assert "amberkey/standard@1 is wanted" in error


def written(path, value):
    path.write_text(json.dumps(value), encoding="utf-8")
    return str(path)


def a_profile(*keys, name="House"):
    entries = [
        {"program": "p", "command": f"c{n}", "platform": "windows", "shortcuts": [{"keys": k}]} for n, k in enumerate(keys)
    ]
    return {"format": "amberkey/profile@1", "id": "house", "name": name, "entries": entries}


def test_compare_tells_and_takes_differences(ask, tmp_path):
    one, other = written(tmp_path / "a.json", a_profile("F5", "F6")), written(tmp_path / "b.json", a_profile("F5", "F7", "F8"))
    code, answer, _ = ask("compare", one, other, "--json")
    assert code == 1
    assert [(d["does"], d["id"]) for d in answer["differences"]] == [
        ("changes", "entries:p/c1 on windows"),
        ("adds", "entries:p/c2 on windows"),
    ]
    assert ask("compare", one, one)[:2] == (0, "Nothing differs.\n")
    assert "Adds the entry p/c2 on windows: F8." in ask("compare", one, other)[1]
    to = tmp_path / "c.json"
    assert ask("compare", one, other, "--take", "entries:p/c2 on windows", "--to", str(to))[0] == 1
    left = ask("compare", str(to), other, "--json")[1]["differences"]
    assert [d["id"] for d in left] == ["entries:p/c1 on windows"]
    assert "There is no difference nothing" in ask("compare", one, other, "--take", "nothing", "--to", str(to))[2]
    assert "Say with --to" in ask("compare", one, other, "--take-all")[2]


def test_compare_merges_with_a_base_and_tells_what_contradicts(ask, tmp_path):
    base = written(tmp_path / "base.json", a_profile("F5", "F6"))
    one, other = written(tmp_path / "a.json", a_profile("F9", "F6")), written(tmp_path / "b.json", a_profile("F5", "F7"))
    to = tmp_path / "both.json"
    assert ask("compare", one, other, "--base", base, "--to", str(to))[0] == 0
    assert ask("compare", str(to), written(tmp_path / "want.json", a_profile("F9", "F7")))[0] == 0
    against = written(tmp_path / "d.json", a_profile("F10", "F6"))
    code, answer, _ = ask("compare", one, against, "--base", base, "--json")
    assert code == 1
    assert [(c["key"], c["one"]["shortcuts"][0]["keys"]) for c in answer["contradictions"]] == [("p/c0 on windows", "F9")]


def test_compare_refuses_two_kinds(ask):
    code, _, error = ask("compare", str(STANDARD / "standard.json"), SETUPS[0])
    assert code == 2
    assert "Compare two of one kind" in error
