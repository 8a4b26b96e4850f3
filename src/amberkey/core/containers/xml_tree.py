"""XML: elements as maps, an attribute under its name with an @ before it, the text of an element without children under #text.

Read by expat, which tells where elements begin; attributes within a tag are found by us. Entities of one's own, document types
and references elsewhere are refused.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from xml.parsers import expat
from xml.sax.saxutils import escape, quoteattr

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.tree import (
    MAX_DEPTH,
    Change,
    Counting,
    Edit,
    Member,
    Node,
    in_parts,
    indent_at,
    newline_of,
    scalar_text,
    whole_lines,
)
from amberkey.core.documents.canonical import Json

_ATTRIBUTE = re.compile(r"\s+([^\s=/>]+)\s*=\s*(\"[^\"]*\"|'[^']*')", re.DOTALL)
_NAME = re.compile(r"[A-Za-z_:][\w:.-]*")
_DECLARED = re.compile(r"^(<\?xml[^>]*?)\s+encoding\s*=\s*(\"[^\"]*\"|'[^']*')")


@dataclass(eq=False)
class _Element:
    name: str
    start: int
    tag_end: int = 0
    end: int = 0
    empty: bool = False
    attributes: list[Member] = field(default_factory=list)
    children: list["_Element"] = field(default_factory=list)
    texts: list[str] = field(default_factory=list)
    close: int = 0


class XmlTree:
    def open(self, text: str, options: Mapping[str, Json]) -> "_OpenedXml":
        return _OpenedXml(text, _Reading(text).whole())


class _Reading:
    def __init__(self, text: str) -> None:
        self.text = text
        # Expat is given UTF-8, whatever the file is in and says that it is in; blanks keep every place.
        self.plain = _DECLARED.sub(lambda m: m[1] + " " * (len(m[0]) - len(m[1])), text)
        self.data = self.plain.encode("utf-8")
        self.ascii = len(self.data) == len(text)
        self.bytes: list[int] = []
        if not self.ascii:
            at = 0
            for n, sign in enumerate(self.plain):
                size = len(sign.encode("utf-8"))
                self.bytes.extend([n] * size)
                at += size
            self.bytes.append(len(text))
        self.open: list[_Element] = []
        self.root: _Element | None = None
        self.counting = Counting()
        self.parser = expat.ParserCreate()
        self.parser.buffer_text = True
        self.parser.StartElementHandler = self.begin
        self.parser.EndElementHandler = self.finish
        self.parser.CharacterDataHandler = self.said
        self.parser.StartDoctypeDeclHandler = self.refuse_doctype

    def place(self) -> int:
        at = self.parser.CurrentByteIndex
        return at if self.ascii else self.bytes[min(at, len(self.bytes) - 1)]

    def whole(self) -> Node:
        try:
            self.parser.Parse(self.data, True)
        except expat.ExpatError as error:
            place = self.parser.ErrorByteIndex
            place = max(0, place)
            at = place if self.ascii else self.bytes[min(place, len(self.bytes) - 1)]
            raise SettingsFileError(f"This is not XML: {expat.ErrorString(error.code)}.", at) from error
        assert self.root is not None
        inner = _node(self.root)
        name_start = self.root.start + 1
        return Node(0, len(self.text), members=(Member(self.root.name, name_start, name_start + len(self.root.name), inner),))

    def refuse_doctype(self, *given: object) -> None:
        raise SettingsFileError("It has a document type, which could name other files and entities. Take it out.", self.place())

    def begin(self, name: str, attributes: Mapping[str, str]) -> None:
        start = self.place()
        self.counting.one(start)
        if len(self.open) >= MAX_DEPTH:
            raise SettingsFileError(f"It nests deeper than {MAX_DEPTH} levels.", start)
        one = _Element(name, start)
        at = start + 1 + len(name)
        while (found := _ATTRIBUTE.match(self.plain, at)) is not None:
            at = found.end()
            node = Node(found.start(2), at, attributes[found[1]], own="attribute")
            one.attributes.append(Member(f"@{found[1]}", found.start(1), found.end(1), node, (found.start(), at)))
        close = self.plain.index(">", at)
        one.tag_end = close + 1
        one.empty = self.plain[close - 1] == "/"
        one.end = one.tag_end
        if self.open:
            self.open[-1].children.append(one)
        else:
            self.root = one
        self.open.append(one)

    def finish(self, name: str) -> None:
        one = self.open.pop()
        if not one.empty:
            one.close = self.place()
            one.end = self.plain.index(">", one.close) + 1

    def said(self, text: str) -> None:
        if self.open:
            self.open[-1].texts.append(text)


def _node(one: _Element) -> Node:
    members = list(one.attributes)
    if one.children:
        for child in one.children:
            name_end = child.start + 1 + len(child.name)
            members.append(Member(child.name, child.start + 1, name_end, _node(child), (child.start, child.end)))
    elif not one.empty:
        members.append(Member("#text", one.tag_end, one.tag_end, Node(one.tag_end, one.close, "".join(one.texts), own="text")))
    return Node(one.start, one.end, members=tuple(members), own=one)


@dataclass(frozen=True)
class _OpenedXml:
    text: str
    root: Node

    def edits(self, changes: Sequence[Change]) -> list[Edit]:
        parts = in_parts(changes)
        edits: list[Edit] = [(p.node.start, p.node.end, self._value(p.node, p.value)) for p in parts.puts]
        for r in parts.renames:
            if not r.member.name.startswith("@"):
                raise SettingsFileError("Elements keep their names.", r.member.name_start)
            edits.append((r.member.name_start, r.member.name_end, _name(r.name.removeprefix("@"))))
        for parent, gone, new in parts.parents():
            for n in gone:
                member = (parent.members or ())[n]
                start, end = member.whole
                edits.append((start, end, "") if member.name.startswith("@") else (*whole_lines(self.text, start, end), ""))
            if new:
                edits += self._added(parent, [(a.name or "", a.value) for a in new])
        return edits

    def _value(self, node: Node, value: Json) -> str:
        text = _text(value)
        if node.own == "attribute":
            return _quoted(text, self.text[node.start])
        return _escaped(text)

    def _added(self, parent: Node, new: list[tuple[str, Json]]) -> list[Edit]:
        element = parent.own
        if not isinstance(element, _Element):
            raise SettingsFileError("An XML file has one element at its root.")
        edits: list[Edit] = []
        attributes = [(n, v) for n, v in new if n.startswith("@")]
        if attributes:
            place = element.attributes[-1].node.end if element.attributes else element.start + 1 + len(element.name)
            edits.append((place, place, "".join(f" {_name(n[1:])}={_quoted(_text(v), chr(34))}" for n, v in attributes)))
        elements = [_element(n, v) for n, v in new if not n.startswith("@")]
        if elements:
            edits.append(self._children(element, elements))
        return edits

    def _children(self, element: _Element, new: list[str]) -> Edit:
        line = newline_of(self.text)
        if element.children:
            last = element.children[-1]
            own_line = whole_lines(self.text, last.start, last.end) != (last.start, last.end)
            if own_line:
                indent, place = indent_at(self.text, last.start), whole_lines(self.text, last.start, last.end)[1]
                return place, place, "".join(f"{indent}{one}{line}" for one in new)
            return last.end, last.end, "".join(new)
        indent = indent_at(self.text, element.start)
        inner = "".join(f"{line}{indent}  {one}" for one in new) + f"{line}{indent}"
        if element.empty:
            close = self.text.rindex("/", element.start, element.tag_end)
            return close, element.tag_end, f">{inner}</{element.name}>"
        if "".join(element.texts).strip():
            raise SettingsFileError("The element holds a text, so no element can be put into it.", element.start)
        return element.close, element.close, inner


def _element(name: str, value: Json) -> str:
    fields = value if isinstance(value, dict) else {"#text": value}
    attributes = "".join(f" {_name(k[1:])}={_quoted(_text(v), chr(34))}" for k, v in fields.items() if k.startswith("@"))
    children = [(k, one) for k, v in fields.items() if k[0] not in "@#" for one in (v if isinstance(v, list) else [v])]
    inner = "".join(_element(k, one) for k, one in children)
    inner += _escaped(_text(fields["#text"])) if fields.get("#text") is not None else ""
    return f"<{_name(name)}{attributes}>{inner}</{name}>" if inner else f"<{_name(name)}{attributes}/>"


def _name(name: str) -> str:
    if not _NAME.fullmatch(name):
        raise SettingsFileError(f"{name[:40]!r} can't be a name in XML.")
    return name


def _text(value: Json) -> str:
    text = scalar_text(value)
    if re.search(r"[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]", text):
        raise SettingsFileError("XML can't hold such a character.")
    return text


def _escaped(text: str) -> str:
    return escape(text, {"\r": "&#13;"})


def _quoted(text: str, quote: str) -> str:
    written = quoteattr(text, {"\n": "&#10;", "\r": "&#13;", "\t": "&#9;"})
    if written[0] == quote:
        return written
    inner = escape(text, {quote: "&quot;" if quote == '"' else "&apos;", "\n": "&#10;", "\r": "&#13;", "\t": "&#9;"})
    return f"{quote}{inner}{quote}"
