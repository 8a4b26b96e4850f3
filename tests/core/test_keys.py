import unicodedata

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.keys.codes import ALL_CODES
from amberkey.core.keys.errors import ShortcutError
from amberkey.core.keys.names import KEY_NAMES, MODIFIER_NAMES, NAMED_KEYS, case_of_key
from amberkey.core.keys.platform import MODIFIERS, STAND_INS
from amberkey.core.keys.reading import MAX_PRESSES, _read_plainly, read_carefully, read_document_shortcut, read_shortcut
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.keys.wording import words_of

characters = (
    st.characters(exclude_categories=("C", "Z", "M"))
    .map(case_of_key)
    .filter(lambda c: len(c) == 1 and c not in {**KEY_NAMES, **MODIFIER_NAMES} and unicodedata.normalize("NFC", c) == c)
)
modifier_sets = st.frozensets(st.sampled_from((*STAND_INS, *MODIFIERS)))
presses = st.one_of(
    st.builds(Press.of, modifier_sets, st.one_of(st.sampled_from(sorted(NAMED_KEYS)), st.sampled_from("AZ09+-,./ßµÄ"))),
    st.builds(lambda m, c: Press.of(m, None, c), modifier_sets, st.sampled_from(sorted(ALL_CODES))),
    st.builds(Press.of, modifier_sets.filter(bool)),
)
shortcuts = st.lists(presses, min_size=1, max_size=4).map(lambda p: Shortcut(tuple(p)))


@given(shortcuts)
def test_what_is_written_is_read_back(shortcut):
    assert read_shortcut(str(shortcut)) == shortcut
    assert read_document_shortcut(shortcut.to_document()) == shortcut


@given(modifier_sets, characters)
def test_any_character_of_a_key_is_read_back(modifiers, char):
    press = Press.of(modifiers, char)
    assert read_shortcut(str(press)) == Shortcut((press,))


@given(st.text(max_size=60))
def test_any_text_is_read_or_refused_with_a_span_inside_it(text):
    try:
        shortcut = read_shortcut(text)
    except ShortcutError as error:
        fault = error
    else:
        assert read_shortcut(str(shortcut)) == shortcut
        return
    assert 0 <= fault.span[0] <= fault.span[1] <= len(text)
    assert fault.expected


@pytest.mark.parametrize(
    "given_text, canonical",
    [
        ("ctrl-shift-u", "Control+Shift+U"),
        ("cmd option p", "Alt+Meta+P"),
        ("⌘⇧7", "Shift+Meta+7"),
        ("Strg+Umschalt+U", "Control+Shift+U"),
        ("u + ctrl", "Control+U"),
        ("Ctrl++", "Control+Plus"),
        ("ctrl--", "Control+-"),
        ("alt gr e", "AltGraph+E"),
        ("Maj+Suppr", "Shift+Delete"),
        ("ctrl page-up", "Control+PageUp"),
        ("Bild↑", "PageUp"),
        ("Ctrl+K, Ctrl+C", "Control+K then Control+C"),
        ("ctrl num 7", "Control+code:Numpad7"),
        ("Strg+Num7", "Control+code:Numpad7"),
        ("pavé num enter", "code:NumpadEnter"),
        ("Ctrl+NumLock", "Control+NumLock"),
        ("flèche gauche", "ArrowLeft"),
        ("Verr maj", "CapsLock"),
        ("högerpil", "ArrowRight"),
        ("Skift+Blanksteg", "Shift+Space"),
        ("Kommando+Alternativ+Ö", "Alt+Meta+Ö"),
        ("Alt then U then 4", "Alt then U then 4"),
        ("Control+,", "Control+,"),
        ("F8 THEN ctrl+l", "F8 then Control+L"),
        ("shift then shift", "Shift then Shift"),
        ("Shift+Alt", "Alt+Shift"),
        ("control+code:keyz", "Control+code:KeyZ"),
        ("main+side+o", "Main+Side+O"),
        ("ß", "ß"),
        ("µ", "µ"),
    ],
)
def test_forgiving_input_canonical_output(given_text, canonical):
    assert str(read_shortcut(given_text)) == canonical


@pytest.mark.parametrize(
    "text, at, guess",
    [
        ("ctrl+bakspace", "bakspace", "Control+Backspace"),
        ("ctrl+a+b", "b", "Control+A then B"),
        ("F8 ctrl+L", "L", "F8 then Control+L"),
        ("ctrl+code:KeyQQ", "KeyQQ", "code:KeyQ"),
        ("ctrl+", "+", "Control+Plus"),
        ("shift shift", "shift shift", "Shift then Shift"),
        ("ctrl strg u", "ctrl strg u", "Control+U"),
    ],
)
def test_a_fault_names_its_place_and_the_nearest_guess(text, at, guess):
    with pytest.raises(ShortcutError) as caught:
        read_shortcut(text)
    start, end = caught.value.span
    assert text[start:end] == at
    assert caught.value.guess == guess


@pytest.mark.parametrize(
    "text, platform, language, words",
    [
        ("Control+Shift+U", "windows", "de", "Strg Umschalt U"),
        ("Meta+E", "linux", "fr", "Super E"),
        ("Alt+Meta+Delete", "macos", "sv", "Alternativ Kommando Delete"),
        ("F8 then Control+L", "windows", "de", "F8 dann Strg L"),
        ("Control+code:Numpad7", "windows", "fr", "Ctrl Pavé num 7"),
        ("Shift then Shift", "windows", "en", "Shift then Shift"),
    ],
)
def test_words_follow_the_platform_and_the_language_of_the_caps(text, platform, language, words):
    assert words_of(read_shortcut(text), platform, language) == words


def test_a_position_is_worded_by_what_is_printed_there():
    assert words_of(read_shortcut("Control+code:KeyZ"), "windows", "de", printed={"KeyZ": "Y"}) == "Strg [Y]"
    assert words_of(read_shortcut("Control+Shift+Enter"), "macos", "en", "symbols") == "⌃ ⇧ ↵"


def test_a_sequence_that_no_program_takes_is_refused():
    with pytest.raises(ShortcutError, match="50 presses"):
        read_shortcut(" then ".join(["F8"] * 50))
    assert len(read_shortcut(" then ".join(["F8"] * MAX_PRESSES)).presses) == MAX_PRESSES


def test_main_and_side_are_each_platforms_own():
    shortcut = read_shortcut("Main+Side+S")
    assert str(shortcut.resolve("windows")) == "Control+Alt+S"
    assert str(shortcut.resolve("macos")) == "Alt+Meta+S"


@pytest.mark.parametrize(
    "language, text, words",
    [
        ("es", "Control+Shift+Delete", "Ctrl Mayús Supr"),
        ("it", "Control+Shift+Delete", "Ctrl Maiusc Canc"),
        ("es", "Alt+Tab", "Alt Tab"),
        ("pl", "Control+Shift+Delete", "Ctrl Shift Del"),
    ],
)
def test_keyboards_of_further_countries_carry_their_own_words_and_english_beside(language, text, words):
    assert words_of(read_shortcut(text), "windows", language) == words
    assert str(read_shortcut(words.replace(" ", "+"))) == text


def test_words_speak_the_language_of_the_caps():
    shortcut = read_shortcut("Control+Shift+Delete then Meta+ArrowUp")
    assert words_of(shortcut, "windows", "de") == "Strg Umschalt Entf dann Win ↑"
    assert words_of(shortcut, "windows", "fr") == "Ctrl Maj Suppr puis Win ↑"
    assert words_of(shortcut, "linux", "sv") == "Ctrl Skift Delete sedan Super ↑"
    assert words_of(shortcut, "macos", "en", "symbols") == "⌃ ⇧ ⌦ then ⌘ ↑"


name_texts = st.lists(
    st.one_of(
        st.sampled_from([*KEY_NAMES, *MODIFIER_NAMES, "then", "+", "-", "ß", "ǅ", "İ", "then then", "code:KeyQ", ","]),
        st.text(max_size=3),
    ),
    max_size=7,
)


@given(name_texts, st.sampled_from(["+", "-", " ", " + ", "  "]))
def test_the_quick_way_of_reading_gives_the_answers_of_the_careful_one(parts, sign):
    text = sign.join(parts)
    try:
        careful = read_carefully(text)
    except ShortcutError:
        careful = None
    quick = _read_plainly(text)
    assert quick in (None, careful)
