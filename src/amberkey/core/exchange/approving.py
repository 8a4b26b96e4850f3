"""What of documents runs something on staff machines or says where files are written: it goes out only when a releaser has
approved that very content.

Launchers run a command line, macros their steps; the path of a settings file says where an agent writes below somebody's home,
or among what is the machine's own.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

from amberkey.core.descriptions.described import OF_THE_MACHINE
from amberkey.core.documents.canonical import digest_of
from amberkey.core.documents.model import Document
from amberkey.core.keys.platform import PLATFORM_NAMES, Platform
from amberkey.core.profiles.macros import Macro, say_macro
from amberkey.core.profiles.model import Launcher, Profile
from amberkey.core.programs.model import Program

MayRun = Callable[[Launcher | Macro], bool]
MayLie = Callable[[Program, Platform, str], bool]


@dataclass(frozen=True, slots=True)
class Sensitive:
    """`subject`: what it is of, whichever version of a program or revision says it. `content`: the text that counts, byte for
    byte. `says`: what it would do, in a sentence."""

    subject: str
    kind: Literal["launcher", "macro", "path"]
    content: str
    says: str

    @property
    def digest(self) -> str:
        """What an approval is of: the content and what it is of."""
        return digest_of(f"{self.subject}\n{self.content}".encode())


def launcher_of(profile_id: str, launcher: Launcher, name: str = "") -> Sensitive:
    """What a launcher of a profile runs. `name`: the profile's."""
    of = f", in {name}" if name else ""
    return Sensitive(
        f"profile/{profile_id} launcher {launcher.id}", "launcher", launcher.runs, f"{launcher.name}{of}, runs {launcher.runs}"
    )


def macro_of(profile_id: str, macro: Macro, name: str = "") -> Sensitive:
    """What a macro of a profile does. `name`: the profile's. Its steps are told as they stand: which commands there are at the
    time makes no difference to what was approved."""
    of = f", in {name}" if name else ""
    platform: Platform = next(iter(macro.shortcuts), "windows")
    says = f"The macro {macro.name} of {macro.program}{of}. {say_macro(macro, None, platform)}"
    return Sensitive(f"profile/{profile_id} macro {macro.key}", "macro", macro.content, says)


def runs_of(profile_id: str, one: Launcher | Macro, name: str = "") -> Sensitive:
    """What a launcher or macro of a profile would do."""
    return launcher_of(profile_id, one, name) if isinstance(one, Launcher) else macro_of(profile_id, one, name)


def path_of(program: Program, platform: Platform, place: str) -> Sensitive:
    """Where a program's settings file lies on a platform (see `Described.place`)."""
    path = place.removeprefix(OF_THE_MACHINE)
    below = "below the home" if path == place else "for everybody on the machine,"
    says = f"The settings of {program.name} are written to {path}, {below} on {PLATFORM_NAMES[platform]}"
    return Sensitive(f"program/{program.id} on {platform}", "path", place, says)


def sensitive_in(document: Document) -> Iterator[Sensitive]:
    """Everything of a document that needs a releaser's approval."""
    if isinstance(document, Profile):
        for launcher in document.launchers:
            yield launcher_of(document.id, launcher, document.name)
        for macro in document.macros:
            yield macro_of(document.id, macro, document.name)
    if isinstance(document, Program):
        for how in document.settings_files:
            for platform in how.path:
                yield path_of(document, platform, how.place(platform))
