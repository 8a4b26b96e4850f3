"""`amberkey propose`: what it says, what it writes, what it refuses."""

import json

import pytest

from amberkey.core.standard.model import Standard
from amberkey.demo.load import DOCUMENTS
from tests.cli.test_command_line import ask  # noqa: F401
from tests.core.estates import read
from tests.core.test_proposing import desk


@pytest.fixture
def here(tmp_path):
    """The setup of a small estate, with its documents beside it: the words that name them."""
    estate = desk()
    for n, document in enumerate((*estate.programs.values(), *estate.profiles.values(), estate.tasks)):
        (tmp_path / f"{n}.json").write_text(json.dumps(document.to_json()))
    (setup,) = estate.setups.values()
    (tmp_path / "setup.json").write_text(json.dumps(setup.to_json()))
    return [str(tmp_path / "setup.json"), "--platform", "windows", "--with", str(tmp_path)]


def keys_of(found):
    return {task: keys for line in found["lines"] for task, keys in line["tasks"].items()}


def test_the_best_is_told_and_written(ask, here, tmp_path):  # noqa: F811
    code, found, _ = ask("propose", *here, "--to", str(tmp_path / "made.json"), "--json")
    assert (code, found["status"], found["gap"]) == (0, "optimal", 0.0)
    assert found["bound"] == found["cost"]
    assert keys_of(found)["save"] == "Control+S"
    made = read(json.loads((tmp_path / "made.json").read_text()))
    assert isinstance(made, Standard)
    assert {v.task: str(v.keys) for v in made.lines} == keys_of(found)
    text = ask("propose", *here)[1]
    assert "proven the best" in text


def test_pins_and_bans_hold_for_all_or_for_one_task(ask, here):  # noqa: F811
    best = keys_of(ask("propose", *here, "--json")[1])["quote"]
    pinned = ask("propose", *here, "--pin", "quote=F7", "--json")[1]
    assert keys_of(pinned)["quote"] == "F7"
    for ban in (best, f"quote={best}"):
        code, other, _ = ask("propose", *here, "--ban", ban, "--json")
        assert (code, keys_of(other)["quote"] != best) == (0, True)
    assert keys_of(ask("propose", *here, "--ban", f"save={best}", "--json")[1])["quote"] == best
    assert ask("propose", *here, "--ban", "Ctrl+=", "--json")[0] == 0
    assert keys_of(ask("propose", *here, "--pin", "windows:quote=F7", "--ban", "Ctrl+:", "--json")[1])["quote"] == "F7"


def test_a_platform_beside_that_nobody_works_on_is_told(ask, here):  # noqa: F811
    code, _, said = ask("propose", *here, "--together", "linux")
    assert (code, "Nobody works on Linux" in said) == (2, True)
    found = ask("propose", *here, "--together", "windows", "--json")[1]
    assert {v["platform"] for v in found["lines"]} == {"windows"}


def test_where_others_may_be_better_the_exit_code_says_so(ask, here):  # noqa: F811
    assert ask("propose", *here, "--gap", "-1")[0] == 1


@pytest.mark.parametrize(
    "words, says",
    [
        (("--pin", "quote"), "TASK=KEYS is wanted"),
        (("--pin", "macos:quote=Cmd+K"), "no keys are chosen for macos: add --together macos."),
        (("--ban", "linux:F9"), "no keys are chosen for linux: add --together linux."),
        (("--ban", "quote=Ctrl+Qq"), "--ban"),
        (("--pin", "attic=F2"), "There is no task attic."),
        (("--pin", "quote=F7", "--ban", "quote=F7"), "F7 is pinned for Quote the fare and banned for it."),
    ],
)
def test_what_has_no_answer_is_told(ask, here, words, says):  # noqa: F811
    code, out, err = ask("propose", *here, *words)
    assert code == 2
    assert says in out + err


def test_departments_are_left_alone_by_their_people_and_only_in_an_organisation(ask, here):  # noqa: F811
    organisation = str(DOCUMENTS / "organisation-organisation.json")
    words = [organisation, "--platform", "macos", "--with", str(DOCUMENTS), "--seconds", "30", "--json"]
    standard = ["--standard", str(DOCUMENTS / "standard-standard.json")]
    everybody = [
        w
        for d in json.loads((DOCUMENTS / "organisation-organisation.json").read_text())["departments"]
        for w in ("--alone", d["id"])
    ]
    found = ask("propose", *words, *standard, *everybody)[1]
    assert found["relearned"] == 0
    code, _, said = ask("propose", *words, "--alone", "attic")
    assert (code, "There is no department attic" in said) == (2, True)
    assert ask("propose", *here, "--alone", "pier")[0] == 2
