"""A stand-in for a desktop's settings store: one text file, taken out and put in as the desktops' own tool does it.

    python -m amberkey.demo.store FILE get
    python -m amberkey.demo.store FILE put < TEXT

Taking out gives sections and settings in alphabetical order; putting in sets what the text says and leaves everything else.
"""

import pathlib
import sys

Sections = dict[str, dict[str, str]]


def read_sections(text: str) -> Sections:
    """The settings of each section, as they are written there."""
    found: Sections = {}
    at: dict[str, str] = {}
    for line in text.splitlines():
        if line.startswith("[") and line.endswith("]"):
            at = found.setdefault(line[1:-1], {})
        elif "=" in line:
            name, _, value = line.partition("=")
            at[name.strip()] = value.strip()
    return found


def written(sections: Sections) -> str:
    """The text export."""
    parts = [f"[{name}]\n" + "".join(f"{k}={v}\n" for k, v in sorted(sections[name].items())) for name in sorted(sections)]
    return "\n".join(parts)


def main() -> int:
    place, verb = pathlib.Path(sys.argv[1]), sys.argv[2]
    sections = read_sections(place.read_text(encoding="utf-8")) if place.exists() else {}
    if verb == "get":
        sys.stdout.write(written(sections))
        return 0
    for name, settings in read_sections(sys.stdin.read()).items():
        sections.setdefault(name, {}).update(settings)
    beside = place.with_suffix(".new")
    beside.write_text(written(sections), encoding="utf-8")
    beside.replace(place)
    return 0


if __name__ == "__main__":
    sys.exit(main())
