"""What inventories write of a machine, in our words: "Windows 11 Pro 23H2", "ubuntu:GNOME", "de-CH", "German (Switzerland)".

Names and numbers that a table or a layout has of its own (`layouts_also_named`, `Program.read_edition`) are no guesses; what is
found here is one, and is told.
"""

import re
import unicodedata
from collections.abc import Collection, Iterable

from amberkey.core.keys.platform import Platform
from amberkey.core.layouts.layout import layout_names
from amberkey.core.programs.model import Program

# Territories by their two letters (ISO 3166) to the country part of our layouts' ids; most are the same in small.
_COUNTRIES = {
    "AT": "de",
    "LI": "ch",
    "LU": "ch",
    "UK": "gb",
    "MX": "latam",
    "AR": "latam",
    "CL": "latam",
    "CO": "latam",
    "PE": "latam",
}
# A language by itself: the country whose keyboard it has most often.
_HOME = {"en": "us", "sv": "se", "da": "dk", "nb": "no", "nn": "no", "cs": "cz", "sl": "si", "el": "gr", "uk": "ua", "he": "il"}
_HOME |= {"ja": "jp", "ko": "kr", "zh": "cn", "sr": "rs", "ar": "ar"}
_LANGUAGES = """
de german deutsch allemand tyska | en english englisch anglais engelska | fr french französisch français franska
sv swedish schwedisch suédois svenska | it italian italienisch italien italienska | es spanish spanisch espagnol spanska
da danish dänisch danois danska | nb norwegian norwegisch norvégien norska | fi finnish finnisch finnois finska
nl dutch niederländisch néerlandais nederländska | pl polish polnisch polonais polska | pt portuguese portugiesisch portugais
cs czech tschechisch tchèque tjeckiska | hu hungarian ungarisch hongrois ungerska | ja japanese japanisch japonais japanska
ru russian russisch russe ryska | uk ukrainian ukrainisch ukrainien | tr turkish türkisch turc | el greek griechisch grec
"""
_TERRITORIES = """
de germany deutschland allemagne tyskland | at austria österreich autriche österrike | ch switzerland schweiz suisse
gb united kingdom great britain großbritannien royaume-uni storbritannien | us united states usa vereinigte staaten états-unis
fr france frankreich frankrike | se sweden schweden suède sverige | be belgium belgien belgique | ca canada kanada
nl netherlands niederlande pays-bas | it italy italien italie | es spain spanien espagne | dk denmark dänemark danemark danmark
no norway norwegen norvège norge | fi finland finnland finlande | ie ireland irland irlande | pl poland polen pologne
"""
_TAG = re.compile(r"([a-z]{2,3})(?:[-_]([a-z]{2}))?(?:[.@].*)?", re.IGNORECASE)
_NAMED = re.compile(r"(.+?)\s*[(,]\s*(.+?)\s*\)?")


def _plain(text: str) -> str:
    return "".join(c for c in unicodedata.normalize("NFKD", text).casefold() if not unicodedata.combining(c)).strip()


def _names(text: str) -> dict[str, str]:
    """Each name to its two letters; a name may be several words, so those of a line are its single words and pairs of them."""
    found: dict[str, str] = {}
    for line in text.replace("\n", " | ").split("|"):
        code, *words = line.split()[:1] or [""], *line.split()[1:]
        for n, word in enumerate(words):
            found.setdefault(_plain(str(word)), str(code[0]))
            if n:
                found.setdefault(_plain(f"{words[n - 1]} {word}"), str(code[0]))
    return found


_BY_LANGUAGE, _BY_TERRITORY = _names(_LANGUAGES), _names(_TERRITORIES)


def layout_of(text: str, platform: Platform | None) -> str | None:
    """The keyboard layout of a platform that a language tag or a name with a country means, or None."""
    language, country = _language_and_country(text)
    if country is None:
        return None
    known = layout_names(platform)
    wanted = (f"{country}({language})", f"{country}(mac)" if platform == "macos" else country, country)
    return next((i for i in wanted if i in known), None) or next((i for i in known if i.startswith(f"{country}(")), None)


def _language_and_country(text: str) -> tuple[str, str | None]:
    if (tag := _TAG.fullmatch(text.strip())) is not None:
        language, territory = tag[1].lower(), (tag[2] or "").upper()
        if territory:
            return language, _COUNTRIES.get(territory, territory.lower())
        return language, _HOME.get(language, language) if language in {*_BY_LANGUAGE.values(), *_HOME} else None
    named = _NAMED.fullmatch(text.strip())
    if named is None:
        return "", None
    language, territory = _BY_LANGUAGE.get(_plain(named[1]), ""), _BY_TERRITORY.get(_plain(named[2]), "")
    return language, _COUNTRIES.get(territory.upper(), territory) if language and territory else None


_SYSTEMS: dict[Platform, tuple[str, ...]] = {
    "windows": ("windows", "win10", "win11", "win32"),
    "macos": ("macos", "mac", "osx", "os x", "darwin"),
    "linux": ("linux", "ubuntu", "debian", "fedora", "mint", "suse", "opensuse", "arch", "gnu", "red hat", "rhel"),
}


def platform_of(text: str, tables: Iterable[Program]) -> Platform | None:
    """The platform of a system that an inventory names with its version, or by its desktop; None where it names none."""
    plain = f" {' '.join(re.split(r'[^a-z0-9]+', _plain(text)))} "
    for platform, words in _SYSTEMS.items():
        if any(f" {w} " in plain for w in words):
            return platform
    for table in tables:
        if len(table.platforms) == 1 and table.editions and table.read_edition(text).known and not text.strip().isdigit():
            return table.platforms[0]
    return None


def newest_table(platform: Platform, tables: Iterable[Program]) -> Program | None:
    """The system table that machines of a platform are given where nothing else is said."""
    found = [t for t in tables if t.kind == "system" and t.platforms == (platform,)]
    return max(found, key=lambda t: t.version, default=None)


def edition_in(text: str, table: Program) -> str:
    """The edition that a text means, by the table's name for it; empty where it means none that the table knows."""
    read = table.read_edition(text)
    return read.name if read.known else ""


def systems_of(programs: Collection[Program]) -> list[Program]:
    """The system tables among some programs."""
    return [p for p in programs if p.kind == "system"]
