"""A settings file that nobody has written yet: as little as its container needs to have a place for records."""

import json
from collections.abc import Sequence

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.toml_tree import toml_name
from amberkey.core.containers.yaml_tree import yaml_scalar
from amberkey.core.descriptions.described import Described
from amberkey.core.descriptions.records import open_file, place_in_words

Tree = dict[str, "Tree | None"]
"""Names with what lies below them; None is the place for records."""


def fresh_file(how: Described, contexts: Sequence[str] = ()) -> bytes:
    """The bytes of a new file with a place for the records of each context, in the described encoding, lines ending with a
    line feed.

    Raises SettingsFileError where the description doesn't say what a step on the way is called.
    """
    tree: Tree | None = None
    for step in reversed(how.at):
        names = _names(step, how, contexts)
        tree = dict.fromkeys(names, tree)
    text = _text(how, tree)
    data = text.encode(how.encoding)
    if not open_file(data, how).places:
        raise SettingsFileError(f"A new file with {place_in_words(how)} can't be begun in this container.")
    return data


def _names(step: str, how: Described, contexts: Sequence[str]) -> list[str]:
    begin, end = step.find("{"), step.find("}")
    if 0 <= begin < end:
        if how.context != step[begin : end + 1]:
            raise SettingsFileError(f"A new file can't be begun: the description doesn't say what {step} is called.")
        return [f"{step[:begin]}{context}{step[end + 1 :]}" for context in dict.fromkeys(contexts)]
    if step == "*":
        raise SettingsFileError("A new file can't be begun: a step of the description (*) may be called anything.")
    return [step]


def _text(how: Described, tree: Tree | None) -> str:
    """`tree`: what lies below the root."""
    in_a_list = how.record is None and {"name", "value"}.isdisjoint((how.command, how.keys.at))
    match how.container:
        case "json":
            return json.dumps(_plain(tree, in_a_list), ensure_ascii=False, indent=2) + "\n"
        case "yaml":
            return "\n".join(_yaml(tree, in_a_list, "")) + "\n"
        case "toml":
            return "".join(_toml(tree, in_a_list, []))
        case "xml":
            if tree is None or len(tree) != 1:
                raise SettingsFileError("An XML file has one element at its root; the description names none.")
            head = how.encoding if how.encoding.startswith(("utf-8", "iso")) else ""
            declared = f'<?xml version="1.0" encoding="{head}"?>\n' if head else '<?xml version="1.0"?>\n'
            return declared + "".join(_xml(tree, ""))
        case "ini":
            return "".join(f"[{name}]\n" for name in tree or {})
        case "table":
            return _heads(how)
        case _:
            return ""


def _plain(tree: Tree | None, in_a_list: bool) -> object:
    if tree is None:
        return [] if in_a_list else {}
    return {name: _plain(below, in_a_list) for name, below in tree.items()}


def _yaml(tree: Tree | None, in_a_list: bool, indent: str) -> list[str]:
    if tree is None:
        return [f"{indent}{'[]' if in_a_list else '{}'}"]
    lines: list[str] = []
    for name, below in tree.items():
        if below is None:
            lines.append(f"{indent}{yaml_scalar(name)}: {'[]' if in_a_list else '{}'}")
        else:
            lines += [f"{indent}{yaml_scalar(name)}:", *_yaml(below, in_a_list, f"{indent}  ")]
    return lines


def _toml(tree: Tree | None, in_a_list: bool, way: list[str]) -> list[str]:
    if tree is None:
        *above, last = way or [""]
        if not in_a_list:
            return [f"[{'.'.join(map(toml_name, way))}]\n"] if way else []
        table = [f"[{'.'.join(map(toml_name, above))}]\n"] if above else []
        return [*table, f"{toml_name(last)} = []\n"] if last else []
    # What stands in the file's own table comes before every table with a name.
    return [line for name, below in tree.items() for line in _toml(below, in_a_list, [*way, name])]


def _xml(tree: Tree, indent: str) -> list[str]:
    lines: list[str] = []
    for name, below in tree.items():
        lines += (
            [f"{indent}<{name}/>\n"]
            if below is None
            else [f"{indent}<{name}>\n", *_xml(below, f"{indent}  "), f"{indent}</{name}>\n"]
        )
    return lines


def _heads(how: Described) -> str:
    """The line of a table's heads: every column that the description names."""
    if how.options.header is False:
        return ""
    parts = how.keys.modifiers
    named = [how.command, how.context, how.keys.at, *how.keys.further, *how.only]
    if parts is not None:
        named += [parts.at, *parts.fields.values()]
    separator = how.options.separator or ","
    return separator.join(dict.fromkeys(c for c in named if c)) + "\n"
