"""Layouts, platforms and bodies as they are asked for on the command line."""

from amberkey.cli.errors import Wrong
from amberkey.core.keys.errors import ShortcutError
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.bodies import Body, load_body
from amberkey.core.layouts.errors import LayoutNotThere, UnknownBody, UnknownLayout
from amberkey.core.layouts.layout import Layout, load_layout, platforms_of

_ANSI_LAYOUTS = (
    "us",
    "us(intl)",
    "us(dvorak)",
    "us(colemak)",
    "nl",
    "kr",
    "cn",
    "ru",
    "ua",
    "il",
    "ar",
    "bg",
    "ro",
    "lt",
    "pl",
)


def layout_for(name: str, platform: Platform | None) -> Layout:
    """Raises Wrong for a layout that isn't there, or not on that platform."""
    try:
        return load_layout(name, platform or platforms_of(name)[0])
    except UnknownLayout as error:
        raise Wrong(str(error), {"layout": name, "known": list(error.known)}) from error
    except LayoutNotThere as error:
        raise Wrong(str(error), {"layout": name, "platform": error.platform, "known": list(error.known)}) from error


def body_for(name: str | None, layout: Layout) -> Body:
    """The body asked for, or the usual one for a layout. Raises Wrong."""
    try:
        return load_body(name or usual_body(layout))
    except UnknownBody as error:
        raise Wrong(str(error), {"body": name, "known": list(error.known)}) from error


def usual_body(layout: Layout) -> str:
    if layout.platform == "macos":
        return "mac-jis" if layout.id == "jp(mac)" else "mac-ansi" if layout.id.startswith("us") else "mac-iso"
    if layout.id in ("jp", "br"):
        return "jis" if layout.id == "jp" else "abnt2"
    return "ansi" if layout.id in _ANSI_LAYOUTS else "iso"


def shortcut_from(text: str) -> Shortcut:
    """Raises Wrong with the place of the fault."""
    try:
        return read_shortcut(text)
    except ShortcutError as error:
        mark = f" ({error.text[: error.span[0]][-40:]}>>{error.text[slice(*error.span)][:40]}<<)" if error.text else ""
        facts = {
            "text": error.text,
            "span": list(error.span),
            "fault": error.says,
            "expected": error.expected,
            "guess": error.guess,
        }
        raise Wrong(f"{text[:80]!r}: {error}{mark}", facts) from error
