"""W3C UI Events `code` values: the physical keys that Amber Key knows."""

from amberkey.core.keys.platform import SIDES

_LETTERS = tuple(f"Key{c}" for c in "ABCDEFGHIJKLMNOPQRSTUVWXYZ")
_DIGITS = tuple(f"Digit{n}" for n in range(10))
_SIGNS = (
    *("Backquote", "Minus", "Equal", "BracketLeft", "BracketRight", "Backslash", "Semicolon", "Quote"),
    *("Comma", "Period", "Slash", "IntlBackslash", "IntlRo", "IntlYen"),
)
WRITING_CODES = (*_LETTERS, *_DIGITS, *_SIGNS)
PAD_CODES = (
    *(f"Numpad{n}" for n in range(10)),
    *("NumpadAdd", "NumpadSubtract", "NumpadMultiply", "NumpadDivide", "NumpadDecimal", "NumpadEnter", "NumpadComma"),
    "NumpadEqual",
)
# Named keys whose code is their key value.
SAME_NAME_CODES = (
    *("Enter", "Tab", "Space", "Escape", "Backspace", "Delete", "Insert", "Home", "End", "PageUp", "PageDown"),
    *("ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown", "CapsLock", "NumLock", "ScrollLock", "PrintScreen", "Pause"),
    *("ContextMenu", "AudioVolumeMute", "AudioVolumeDown", "AudioVolumeUp", "NonConvert", "Convert", "KanaMode"),
    *(f"F{n}" for n in range(1, 25)),
    # What the top row of a Mac does where it isn't function keys; a laptop's own keys, which no system knows, are unidentified.
    *("BrightnessDown", "BrightnessUp", "ShowAllWindows", "LaunchApp1", "SpeechInputToggle"),
    *("MediaTrackPrevious", "MediaPlayPause", "MediaTrackNext", "DoNotDisturbToggle", "Unidentified"),
    # Further keys that desktops listen to, by the names of W3C UI Events and, where it has none, of the common browsers.
    *("Eject", "Power", "Sleep", "MediaStop", "MediaPause", "MediaSelect", "MediaFastForward", "MediaRewind"),
    *("MicrophoneMuteToggle", "KeyboardBacklightDown", "KeyboardBacklightUp", "KeyboardBacklightToggle"),
    *("LaunchApp2", "LaunchMail", "LaunchControlPanel", "LaunchScreenSaver", "BrowserHome", "BrowserSearch"),
    *("DisplayToggleIntExt", "Lang1", "Lang2"),
)
MODIFIER_CODES = SIDES
ALL_CODES = frozenset((*WRITING_CODES, *PAD_CODES, *SAME_NAME_CODES, *MODIFIER_CODES))
