"""From the ways in which desktops write a press to ours."""

import re

# X11 keysyms (X11/keysymdef.h and XF86keysym.h) to W3C UI Events names; a key that W3C has no name for is left out.
KEYSYMS = {
    "Print": "PrintScreen", "Page_Up": "PageUp", "Page_Down": "PageDown", "Prior": "PageUp", "Next": "PageDown",
    "Left": "ArrowLeft", "Right": "ArrowRight", "Up": "ArrowUp", "Down": "ArrowDown", "Escape": "Escape", "Esc": "Escape",
    "Tab": "Tab", "space": "Space", "Space": "Space", "Home": "Home", "End": "End", "Insert": "Insert", "Delete": "Delete",
    "Menu": "ContextMenu", "Return": "Enter", "BackSpace": "Backspace", "Backspace": "Backspace", "Pause": "Pause",
    "PgUp": "PageUp", "PgDown": "PageDown", "Num_Lock": "NumLock",
    "equal": "=", "Equal": "=", "minus": "-", "Minus": "-", "plus": "Plus", "Plus": "Plus", "grave": "`", "QuoteLeft": "`",
    "period": ".", "comma": ",", "semicolon": ";", "slash": "/", "backslash": "\\", "Asterisk": "*", "Period": ".",
    "Above_Tab": "code:Backquote",
    "AsciiTilde": "~",
    "XF86AudioLowerVolume": "AudioVolumeDown", "XF86AudioRaiseVolume": "AudioVolumeUp", "XF86AudioMute": "AudioVolumeMute",
    "XF86AudioMicMute": "MicrophoneMuteToggle", "XF86AudioNext": "MediaTrackNext", "XF86AudioPrev": "MediaTrackPrevious",
    "XF86AudioPlay": "MediaPlayPause", "XF86AudioStop": "MediaStop", "XF86AudioPause": "MediaPause",
    "XF86AudioMedia": "MediaSelect", "XF86AudioForward": "MediaFastForward", "XF86AudioRewind": "MediaRewind",
    "XF86MonBrightnessUp": "BrightnessUp", "XF86MonBrightnessDown": "BrightnessDown",
    "XF86KbdBrightnessUp": "KeyboardBacklightUp", "XF86KbdBrightnessDown": "KeyboardBacklightDown",
    "XF86KbdLightOnOff": "KeyboardBacklightToggle", "XF86Display": "DisplayToggleIntExt",
    "XF86Calculator": "LaunchApp2", "XF86Explorer": "LaunchApp1", "XF86Mail": "LaunchMail", "XF86WWW": "BrowserHome",
    "XF86Search": "BrowserSearch", "XF86Tools": "LaunchControlPanel", "XF86Eject": "Eject", "XF86PowerOff": "Power",
    "XF86Sleep": "Sleep", "XF86ScreenSaver": "LaunchScreenSaver", "HomePage": "BrowserHome",
}  # fmt: skip
_QT = {
    "VolumeDown": "AudioVolumeDown", "VolumeUp": "AudioVolumeUp", "VolumeMute": "AudioVolumeMute",
    "MicMute": "MicrophoneMuteToggle", "MediaNext": "MediaTrackNext", "MediaPrevious": "MediaTrackPrevious",
    "MediaPlay": "MediaPlayPause", "MediaStop": "MediaStop", "MediaPause": "MediaPause",
    "MonBrightnessUp": "BrightnessUp", "MonBrightnessDown": "BrightnessDown",
    "KeyboardBrightnessUp": "KeyboardBacklightUp", "KeyboardBrightnessDown": "KeyboardBacklightDown",
    "KeyboardLightOnOff": "KeyboardBacklightToggle", "Display": "DisplayToggleIntExt", "PowerOff": "Power",
    "PowerDown": "", "Sleep": "Sleep", "Search": "BrowserSearch", "Tools": "LaunchControlPanel", "Calculator": "LaunchApp2",
    "Launch (1)": "LaunchApp2", "LaunchC": "ShowAllWindows", "ScreenSaver": "LaunchScreenSaver", "Meta": "Meta",
    "Battery": "", "Hibernate": "", "TouchpadToggle": "", "TouchpadOn": "", "TouchpadOff": "",
}  # fmt: skip
_MODIFIERS = {
    "primary": "Control", "control": "Control", "ctrl": "Control", "alt": "Alt", "shift": "Shift", "super": "Meta",
    "meta": "Meta", "mod1": "Alt", "mod4": "Meta",
}  # fmt: skip
_PAD = {
    **{f"KP_{n}": f"Numpad{n}" for n in range(10)},
    **dict(zip(("End", "Down", "Next", "Left", "Begin", "Right", "Home", "Up", "Page_Up"), range(1, 10), strict=True)),
}
_ORDER = ("Control", "Alt", "Shift", "Meta")


def _joined(held: set[str], key: str) -> str:
    return "+".join((*(m for m in _ORDER if m in held), key)) if key else ""


def _key(name: str) -> str:
    if name.startswith("KP_"):
        # The grab is of the key, whatever NumLock makes of it.
        place = _PAD.get(name) or _PAD.get(name.removeprefix("KP_"), "")
        return f"code:Numpad{place}" if isinstance(place, int) else f"code:{place}" if place else ""
    if re.fullmatch(r"F\d{1,2}", name):
        return name
    if len(name) == 1:
        return name.upper()
    return KEYSYMS.get(name, "")


def from_gtk(text: str) -> str:
    """A press as GTK writes it, "<Primary><Alt>Page_Up", as ours; empty where it stands on no key that W3C has a name for."""
    held = {_MODIFIERS[m.lower()] for m in re.findall(r"<(\w+)>", text)}
    name = re.sub(r"<\w+>", "", text)
    if name in ("Super", "Super_L", "Super_R"):
        return _joined(held, "Meta")
    return _joined(held, _key(name))


def from_qt(text: str) -> str:
    """A press as Qt writes it in a text, "Meta+Ctrl+Esc"."""
    *mods, name = re.sub(r"\+\+$", "+Plus", text.strip()).split("+")
    key = _QT[name] if name in _QT else _key(name)
    return _joined({_MODIFIERS[m.lower()] for m in mods}, key)


_EXPRESSION = re.compile(r"(?:Qt::(?:META|CTRL|ALT|SHIFT|\w+Modifier)\s*\|\s*)*Qt::Key_\w+|Qt::\w+ \| key\b")


def qt_expressions(code: str) -> list[str]:
    """Every press that stands as `Qt::META | Qt::Key_A` in a piece of a source file, as Qt writes it in a text."""
    found = []
    for one in _EXPRESSION.findall(code):
        mods = [m.removesuffix("Modifier") for m in re.findall(r"Qt::(\w+?)\s*\|", one)]
        key = one.rpartition("Qt::Key_")[2]
        found.append("+".join((*(m.capitalize() for m in mods), key)))
    return list(dict.fromkeys(found))
