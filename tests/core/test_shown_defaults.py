"""Defaults that a settings file only shows, behind a sign that makes comments of them."""

import codecs
import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.descriptions import shown
from amberkey.core.descriptions.carrying import Wanted, read_file, write_file
from amberkey.core.descriptions.described import Described
from amberkey.core.descriptions.guessing import guess
from amberkey.core.descriptions.shown import shown_defaults
from amberkey.core.keys.reading import read_shortcut

PLUS = {"Control": ["Ctrl+"], "Alt": ["Alt+"], "Shift": ["Shift+"], "Meta": ["Win+"]}
FLAT = {"at": ["keys"], "command": "name", "keys": {"at": "value"}, "dialect": {"modifiers": PLUS}}
PROSE = ("How to change keys", "This is how: see below", "one = and = two", "as ever,", 'a "quoted" word: "x', "- a point")
HEAD = {"json": '{"keys": {', "toml": "[keys]", "ini": "[keys]", "yaml": "keys:", "properties": ""}
FOOT = {"json": '"end": "F9" } }'}
SIGN = {"json": "//", "toml": "# ", "ini": ";", "yaml": "#", "properties": "#"}


def described(container, **more):
    options = {"options": {"comments": True}} if container == "json" else {}
    at = {"at": []} if container == "properties" else {}
    return Described.model_validate({**FLAT, **options, **at, "container": container, **more}, strict=False)


def entry(container, name, keys):
    match container:
        case "json":
            return f'"{name}": "{keys}",'
        case "toml":
            return f'{name} = "{keys}"'
        case "yaml":
            return f"  {name}: {keys}"
        case _:
            return f"{name}={keys}"


def said(found):
    return {(f.line, f.what.command, *map(str, f.shortcuts)) for f in found}


@pytest.mark.parametrize("container", SIGN)
@given(st.randoms(use_true_random=False))
def test_defaults_are_told_whatever_prose_and_entries_stand_around_them(container, draw: random.Random):
    sign, lines, expected = SIGN[container], [HEAD[container]], set()
    for n in range(draw.randrange(1, 14)):
        keys = draw.choice(["Ctrl+S", "F3", "Ctrl+Shift+K", "Alt+2"])
        kind = draw.choice(["set", "shown", "prose", "blank"])
        if kind == "prose":
            lines.append(sign + draw.choice(PROSE))
            continue
        text = entry(container, f"do{n}", keys)
        lines.append({"set": text, "shown": sign + text, "blank": ""}[kind])
        if kind == "shown":
            expected.add((len(lines), f"do{n}", str(read_shortcut(keys))))
    lines.append(FOOT.get(container, ""))
    data = "\r\n".join(lines).encode() if draw.random() < 0.3 else "\n".join(lines).encode()
    how = described(container, shown_behind=sign)
    told = said(shown_defaults(data, how))
    assert expected <= told
    # What is told beside them is prose that reads as an entry of its own, and that is on its line.
    assert all(lines[line - 1].startswith(sign) and name in lines[line - 1] for line, name, *_ in told - expected)
    assert not told & said(read_file(data, how).found)


@pytest.mark.parametrize("container", SIGN)
def test_a_default_is_told_beside_the_entry_that_sets_another_key(container):
    sign = SIGN[container]
    own, shown = entry(container, "save", "Ctrl+S"), sign + entry(container, "save", "F12")
    lines = [HEAD[container], own, shown, FOOT.get(container, "")]
    found = shown_defaults("\n".join(lines).encode(), described(container, shown_behind=sign))
    assert said(found) == {(3, "save", "F12")}


def test_what_is_shown_is_nothing_that_is_set_and_stays_as_it_is():
    data = b"[keys]\n;save=Ctrl+S\nback=F3\n"
    how = described("ini", shown_behind=";")
    assert read_file(data, how).shortcuts == {Wanted("back"): (read_shortcut("F3"),)}
    after = write_file(data, how, {Wanted("save"): (read_shortcut("F2"),)}).data
    assert b";save=Ctrl+S\n" in after
    assert b"\nsave=F2" in after


def test_nothing_is_shown_where_the_description_names_no_sign():
    assert shown_defaults(b"[keys]\n;save=Ctrl+S\n", described("ini")) == ()


def test_an_entry_over_a_line_that_spoils_it_is_told_all_the_same():
    # Without its sign the prose would go on with the value of the line above it.
    data = b"keys:\n  back: F3\n#  save: Ctrl+S\n#  words: and words: here\n#    only words, and one: \n"
    assert said(shown_defaults(data, described("yaml", shown_behind="#"))) == {(3, "save", "Control+S")}


@pytest.mark.parametrize(
    ("text", "sign"),
    [
        ("[keys]\n# what can be set:\n# open = Ctrl+O\n# save = Ctrl+S\n# back = F3\n", "# "),
        ("[keys]\nsave = Ctrl+Shift+S\n;open = Ctrl+O\n; save = Ctrl+S\n;back = F3\n", ";"),
        ('{ "keys": {\n  // "open": "Ctrl+O",\n  "save": "Ctrl+S",\n  // prose: here\n  // "print": "Ctrl+P"\n } }', "// "),
        ("[keys]\n# kept since May, see: the manual\n# see = x\nsave = Ctrl+S\n", ""),
    ],
)
def test_the_sign_is_guessed_from_what_reads_behind_it(text, sign):
    assert guess(text.encode())[0].described.shown_behind == sign


def test_a_file_in_which_nothing_is_set_is_guessed_from_what_it_shows():
    (best, *_) = guess(b"[keys]\n# what can be set:\n# open = Ctrl+O\n# save = Ctrl+S\n", ["open"])
    assert (best.described.container, best.described.at) == ("ini", ("keys",))
    assert best.why == ("nothing is set in it", "2 defaults are shown behind #")
    assert (best.reading.found, best.shown) == ((), 2)


def test_the_dialect_is_guessed_from_what_is_shown_where_what_is_set_says_too_little():
    (best, *_) = guess(b"[keys]\n# Every command:\n#save=ctl~s\n#print=ctl~q\n#zoom=f6\nsave=f12\n")
    assert (len(best.reading.found), best.shown) == (1, 3)
    assert best.described.dialect.modifiers["Control"] == ("ctl~",)


def test_of_several_containers_the_one_that_reads_more_of_what_is_shown_is_the_first():
    lines = [f"# prose about do{n}, and more\n#  do{n}: Ctrl+Shift+F{n % 12 + 1}\n" for n in range(60)]
    (best, *_) = guess(("keys:\n" + "".join(lines)).encode())
    assert (best.described.container, best.described.at, best.shown) == ("yaml", ("keys",), 60)


def test_a_sentence_with_a_key_in_it_is_prose_among_names_of_one_word_and_an_entry_among_such_sentences():
    how = described("ini", shown_behind="#")
    sentence = b"[keys]\n#How to write them: Ctrl+K\n"
    assert said(shown_defaults(sentence + b"#save=Ctrl+S\n#print=Ctrl+P\n", how)) == {
        (3, "save", "Control+S"),
        (4, "print", "Control+P"),
    }
    assert len(shown_defaults(sentence + b"#Save the sheet: Ctrl+S\n", how)) == 2


def test_defaults_are_guessed_in_a_file_of_two_bytes_a_character():
    text = "[keys]\n# what can be set:\n# open = Ctrl+O\n# save = Ctrl+S\n"
    (best, *_) = guess(codecs.BOM_UTF16_LE + text.encode("utf-16-le"))
    assert (best.described.encoding, best.described.at, best.shown) == ("utf-16-le", ("keys",), 2)


@pytest.mark.parametrize("container", SIGN)
@pytest.mark.parametrize("lines", [20, 400, 20_000])
def test_telling_defaults_from_prose_reads_no_more_than_its_bounds(container, lines, monkeypatch):
    read = []

    def counted(data, how):
        read.append(len(data))
        return read_file(data, how)

    monkeypatch.setattr(shown, "read_file", counted)
    sign = SIGN[container]
    prose = [
        f"{sign}{draw} of: the = rest" for draw in ('a "quoted', "- a point", "[a part", "{ a brace") for _ in range(lines // 4)
    ]
    text = "\n".join([HEAD[container], entry(container, "save", "Ctrl+S"), *prose, FOOT.get(container, "")])
    shown_defaults(text.encode(), described(container, shown_behind=sign))
    # Twice: with what is set, and with that taken out.
    assert len(read) <= 2 * shown.MOST_READS
    assert sum(read) <= 2 * max(shown.MOST_CHARACTERS, 4 * len(text))
