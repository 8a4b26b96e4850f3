"""Reads what desktops do with presses out of unpacked packages of Debian. Each function returns what its source says, as it is
written there: by the name of the setting, its presses."""

import ast
import configparser
import json
import pathlib
import re
import xml.etree.ElementTree as ET

from tools.desktops.presses import from_gtk, from_qt, qt_expressions

Presses = dict[str, list[str]]
_SCHEMAS = "usr/share/glib-2.0/schemas"

# Edition, package, and which file of it says it. Names of schemas are those of the files.
GSETTINGS = (
    ("GNOME", "gsettings-desktop-schemas", "org.gnome.desktop.wm.keybindings"),
    ("GNOME", "gnome-settings-daemon-common", "org.gnome.settings-daemon.plugins.media-keys"),
    ("GNOME", "gnome-shell-common", "org.gnome.shell"),
    ("GNOME", "mutter-common", "org.gnome.mutter"),
    ("GNOME", "mutter-common", "org.gnome.mutter.wayland"),
    ("X-Cinnamon", "cinnamon-desktop-data", "org.cinnamon.desktop.keybindings"),
    ("X-Cinnamon", "cinnamon-desktop-data", "org.cinnamon.desktop.keybindings.media-keys"),
    ("X-Cinnamon", "cinnamon-desktop-data", "org.cinnamon.desktop.keybindings.wm"),
    ("X-Cinnamon", "muffin-common", "org.cinnamon.muffin.wayland"),
)
APPLETS = ("calendar", "grouped-window-list", "menu", "network", "notifications", "sound")
XFCE = "etc/xdg/xfce4/xfconf/xfce-perchannel-xml/xfce4-keyboard-shortcuts.xml"
# While a window is moved by arrows only.
_ONLY_WHILE_MOVING = ("cancel_key", "left_key", "right_key", "up_key", "down_key")
DESKTOP_FILES = (
    ("dolphin", "org.kde.dolphin"),
    ("kcalc", "org.kde.kcalc"),
    ("konsole", "org.kde.konsole"),
    ("plasma-workspace", "org.kde.krunner"),
    ("kscreen", "org.kde.kscreen"),
    ("plasma-systemmonitor", "org.kde.plasma-systemmonitor"),
    ("plasma-desktop-data", "org.kde.plasma.emojier"),
    ("kde-spectacle", "org.kde.spectacle"),
    ("systemsettings", "systemsettings"),
)
_SHORT = r"initShortcut\(\"{}\".*?;"
_ADDED = r"addAction\(QStringLiteral\(\"{}\"\).*?;"
# Plasma sets its presses in its sources: package, file, {our name of the setting: pattern of the statement that sets it}.
SOURCES: tuple[tuple[str, str, dict[str, str]], ...] = (
    (
        "kwin",
        "src/useractions.cpp",
        {
            name: _SHORT.format(re.escape(name))
            for name in (
                *("Window Operations Menu", "Window Close", "Window Maximize", "Window Minimize"),
                *("Activate Window Demanding Attention", "Window Quick Tile Left", "Window Quick Tile Right"),
                *("Window Quick Tile Top", "Window Quick Tile Bottom", "Switch Window Up", "Switch Window Down"),
                *("Switch Window Right", "Switch Window Left", "Window One Desktop to the Right"),
                *("Window One Desktop to the Left", "Window One Desktop Up", "Window One Desktop Down"),
                *("Window to Next Screen", "Window to Previous Screen", "Show Desktop", "Kill Window", "Suspend Compositing"),
            )
        },
    ),
    ("kwin", "src/tabbox/tabbox.cpp", {n: rf"key\({n}, .*?;" for n in ("s_windows", "s_windowsRev", "s_app", "s_appRev")}),
    (
        "kwin",
        "src/virtualdesktops.cpp",
        {
            **{
                n: _ADDED.format(n)
                for n in (f"Switch One Desktop {way}" for way in ("to the Right", "to the Left", "Up", "Down"))
            },
            **{f"toDesktop {n}": rf"addAction\(toDesktop, toDesktopLabel, {n},.*?;" for n in range(1, 5)},
        },
    ),
    (
        "kwin",
        "src/keyboard_layout.cpp",
        {
            "switchKeyboardAction": r"sequence = QKeySequence\(.*?;",
            "switchLastUsedKeyboardAction": r"sequenceLastUsed = QKeySequence\(.*?;",
        },
    ),
    (
        "kwin",
        "src/{plugins}/overview/overvieweffect.cpp",
        {"overview": r"defaultOverviewShortcut = .*?;", "grid": r"defaultGridShortcut = .*?;"},
    ),
    (
        "kwin",
        "src/{plugins}/windowview/windowvieweffect.cpp",
        {
            "Expose": r"setDefaultShortcut\(m_exposeAction,.*?;",
            "ExposeAll": r"setDefaultShortcut\(m_exposeAllAction,.*?;",
            "ExposeClass": r"setDefaultShortcut\(m_exposeClassAction,.*?;",
        },
    ),
    ("kwin", "src/{plugins}/tileseditor/tileseditoreffect.cpp", {"tileseditor": r"defaultToggleShortcut = .*?;"}),
    (
        "kwin",
        "src/{plugins}/zoom/zoom.cpp",
        {
            "zoom.in": r"setDefaultShortcut\(a, [^;]*?Key_Plus.*?;",
            "zoom.out": r"setDefaultShortcut\(a, [^;]*?Key_Minus.*?;",
            "zoom.end": r"setDefaultShortcut\(a, [^;]*?Key_0.*?;",
            "zoom.focus": r"setDefaultShortcut\(a, [^;]*?Key_F5.*?;",
            "zoom.center": r"setDefaultShortcut\(a, [^;]*?Key_F6.*?;",
        },
    ),
    (
        "kwin",
        "src/{plugins}/invert/invert.cpp",
        {"invert": r"setDefaultShortcut\(a,.*?;", "invert.window": r"setDefaultShortcut\(b,.*?;"},
    ),
    ("kwin", "src/{plugins}/mouseclick/mouseclick.cpp", {"mouseclick": r"setDefaultShortcut\(a,.*?;"}),
    (
        "kwin",
        "src/{plugins}/mousemark/mousemark.cpp",
        {
            "mousemark.clear": r"setDefaultShortcut\(a, [^;]*?Key_F11.*?;",
            "mousemark.last": r"setDefaultShortcut\(a, [^;]*?Key_F12.*?;",
        },
    ),
    ("kwin", "src/{plugins}/thumbnailaside/thumbnailaside.cpp", {"thumbnailaside": r"setDefaultShortcut\(a,.*?;"}),
    ("kwin", "src/plugins/eis/eisinputcapturemanager.cpp", {"eis": r"defaultDisableKeys\{.*?;"}),
    ("plasma-workspace", "startkde/session-shortcuts/main.cpp", {"Log Out": r"\"Log Out\".*?setGlobalShortcut.*?;"}),
    (
        "plasma-workspace",
        "shell/shellcorona.cpp",
        {
            "dashboard": r"setGlobalShortcut\(dashboardAction,.*?;",
            "launcher": r"setGlobalShortcut\(activateLauncherAction,.*?;",
            "activities": r"setGlobalShortcut\(activityAction,.*?;",
            "stop activity": r"setGlobalShortcut\(stopActivityAction,.*?;",
            "panel focus": r"setGlobalShortcut\(cyclePanelFocusAction,.*?;",
        },
    ),
    (
        "plasma-workspace",
        "klipper/klipper.cpp",
        {
            "clipboard actions": r"setGlobalShortcut\(m_toggleURLGrabAction,.*?;",
            "clipboard": r"setGlobalShortcut\(m_showOnMousePos,.*?;",
        },
    ),
    (
        "plasma-workspace",
        "libkmpris/kded/mprisservice.cpp",
        {
            key: rf"addGlobalShortcut\(QStringLiteral\(\"{name}\"\).*?;"
            for key, name in (
                *(("play", "playpausemedia"), ("next", "nextmedia"), ("previous", "previousmedia")),
                *(("stop", "stopmedia"), ("pause", "pausemedia")),
            )
        },
    ),
    ("kscreenlocker", "settings/kscreensaversettings.cpp", {"lock": r"return \{Qt::META.*?;"}),
    ("plasma-desktop", "kaccess/kaccess.cpp", {"screenreader": r"setGlobalShortcut\(toggleScreenReaderAction,.*?;"}),
    (
        "plasma-desktop",
        "imports/activitymanager/switcherbackend.cpp",
        {
            "next activity": r"s_action_name_next_activity\),.*?;",
            "previous activity": r"s_action_name_previous_activity\),.*?;",
        },
    ),
    ("powerdevil", "daemon/actions/bundled/powerprofile.cpp", {"power profile": r"setGlobalShortcut\(globalAction,.*?;"}),
    (
        "powerdevil",
        "daemon/actions/bundled/handlebuttonevents.cpp",
        {
            "sleep": r"setGlobalShortcut\(globalAction, Qt::Key_Sleep.*?;",
            "power": r"setGlobalShortcut\(globalAction, Qt::Key_PowerOff.*?;",
        },
    ),
    (
        "powerdevil",
        "daemon/actions/bundled/keyboardbrightnesscontrol.cpp",
        {
            "keyboard brightness up": r"setGlobalShortcut\(globalAction, Qt::Key_KeyboardBrightnessUp.*?;",
            "keyboard brightness down": r"setGlobalShortcut\(globalAction, Qt::Key_KeyboardBrightnessDown.*?;",
            "keyboard light": r"setGlobalShortcut\(globalAction, Qt::Key_KeyboardLightOnOff.*?;",
        },
    ),
    (
        "powerdevil",
        "daemon/powerdevilscreenbrightnessagent.cpp",
        {
            "brightness up": r"setGlobalShortcut\(globalAction, Qt::Key_MonBrightnessUp.*?;",
            "brightness up small": r"setGlobalShortcut\(globalAction, Qt::ShiftModifier \| Qt::Key_MonBrightnessUp.*?;",
            "brightness down": r"setGlobalShortcut\(globalAction, Qt::Key_MonBrightnessDown.*?;",
            "brightness down small": r"setGlobalShortcut\(globalAction, Qt::ShiftModifier \| Qt::Key_MonBrightnessDown.*?;",
        },
    ),
)


def gsettings(file: pathlib.Path) -> Presses:
    """The keys of a schema, by their names; deprecated schemas in the same file repeat others and are left out."""
    found: Presses = {}
    for schema in ET.parse(file).getroot().iter("schema"):
        if (schema.get("id") or "").endswith(".deprecated"):
            continue
        for key in schema.iter("key"):
            text = re.sub(r"^@as\s*", "", (key.findtext("default") or "").strip())
            try:
                value = ast.literal_eval(text)
            except (SyntaxError, ValueError):
                continue
            values = [value] if isinstance(value, str) else value
            presses = [v for v in values if isinstance(v, str) and from_gtk(v)] if isinstance(values, list) else []
            # A key that holds no press may hold a word that reads like one.
            if any(re.search(r"<|^XF86|^Super|^Print$|^F\d", v) for v in presses):
                found[str(key.get("name"))] = presses
    return found


def xfce(file: pathlib.Path) -> Presses:
    """What Xfce ships as its defaults, by what is started or done."""
    found: Presses = {}
    for group in ET.parse(file).getroot():
        default = next(p for p in group if p.get("name") == "default")
        for one in default:
            does = str(one.get("value"))
            if does not in _ONLY_WHILE_MOVING and from_gtk(str(one.get("name"))):
                found.setdefault(does, []).append(str(one.get("name")))
    return found


def library(data: bytes) -> Presses:
    """The keys of the sound that a library names, where its presses are in no other file: one for each name."""
    names = sorted({n.decode() for n in re.findall(rb"XF86Audio[A-Za-z]+", data)})
    return {n.removeprefix("XF86Audio"): [n] for n in names if from_gtk(n)}


def applet(file: pathlib.Path, name: str) -> Presses:
    """The presses that one of Cinnamon's applets takes, by applet and setting."""
    settings = json.loads(file.read_text(encoding="utf-8"))
    return {
        f"{name}.{key}": one["default"].split("::")
        for key, one in settings.items()
        if isinstance(one, dict) and one.get("type") == "keybinding" and one.get("default")
    }


def numbered_applet(script: str) -> Presses:
    """The presses with which Cinnamon's list of windows answers to digits, where its script sets them in a loop."""
    found: Presses = {}
    for key, pattern in (
        ("bar", r"'launch-app-key-' \+ i, '([^']+)' \+ i"),
        ("bar-new", r"'launch-new-app-key-' \+ i, '([^']+)' \+ i"),
    ):
        match = re.search(pattern, script)
        if match:
            found |= {f"{key}-{n}": [f"{match[1]}{n}"] for n in range(1, 10)}
    return found


def desktop_file(file: pathlib.Path, name: str) -> Presses:
    """The global presses in a desktop file of Plasma, by its name and the action."""
    reader = configparser.ConfigParser(interpolation=None, strict=False)
    reader.optionxform = str  # type: ignore[assignment, method-assign]
    reader.read_string(file.read_text(encoding="utf-8"))
    found: Presses = {}
    for section in reader.sections():
        presses = [p for p in reader[section].get("X-KDE-Shortcuts", "").split(",") if p and from_qt(p)]
        if presses:
            action = section.removeprefix("Desktop Action ") if section != "Desktop Entry" else ""
            found[f"{name} {action}".strip()] = presses
    return found


def source(text: str, patterns: dict[str, str]) -> Presses:
    """What the statements of a source file set, by our name of the setting."""
    found: Presses = {}
    for name, pattern in patterns.items():
        match = re.search(pattern, text, re.DOTALL)
        presses = [p for p in qt_expressions(match[0]) if from_qt(p)] if match else []
        if presses:
            found[name] = presses
    return found


def task_presses(text: str) -> Presses:
    """The digits by which Plasma starts the programs of its bar, set in a loop."""
    if not re.search(r"entryNumber < 10 \? QKeySequence\(Qt::META \| key\)", text):
        return {}
    return {f"task {n}": [f"Meta+{n}"] for n in range(1, 10)}


def consoles(text: str) -> Presses:
    """The text consoles that X11's own keymap answers to, whatever desktop runs."""
    numbers = sorted(map(int, re.findall(r"XF86_?Switch_VT_(\d+)", text)))
    return {f"console {n}": [f"<Control><Alt>F{n}"] for n in dict.fromkeys(numbers)}
