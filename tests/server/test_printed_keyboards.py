"""Drawn keyboards to print: as SVG and PDF, with owners, reach and use; and what isn't told."""

import xml.etree.ElementTree as ET

import pytest

SVG = "{http://www.w3.org/2000/svg}"


def drawn(api, **asked):
    answer = api.client.get("/api/cards/keyboard.svg", {"setup": "ticket-counters", **asked})
    assert answer.status_code == 200, answer.content
    assert answer["Content-Type"] == "image/svg+xml"
    return ET.fromstring(answer.content)


def texts(svg):
    return [t.text or "" for t in svg.iter(f"{SVG}text")]


def test_who_takes_each_key_is_drawn_for_each_set_of_modifiers(ines):
    shown = ines.get("/keyboard?setup=ticket-counters&program=quaysheet&scope=sheet&held=Control")[1]
    svg = drawn(ines, program="quaysheet", scope="sheet")
    told = texts(svg)
    assert told[0].startswith("Who takes each key: ")
    assert "Strg" in told
    taken = [k["short"] for k in shown["keys"] if k["owner"] in ("system", "program") and k["modifier"] is None]
    assert taken
    assert set(taken) <= set(told)
    assert not [e for e in svg.iter() if any("http" in v and "w3.org" not in v for v in e.attrib.values())]


def test_reach_is_drawn_as_the_strip_tells_it(ines):
    shown = ines.get("/keyboard?setup=ticket-counters")[1]
    told = texts(drawn(ines, shows="reach"))
    assert {str(k["reach"]) for k in shown["keys"] if k["modifier"] is None} <= set(told)


def test_use_is_told_where_it_is_known_and_never_of_a_few(ines):
    (none,) = texts(drawn(ines, shows="use"))
    assert none.startswith("Nobody has said yet how often commands are used here")


@pytest.mark.parametrize("shows", ["owners", "reach", "use"])
def test_it_prints(ines, shows):
    answer = ines.client.get("/api/cards/keyboard.pdf", {"setup": "ticket-counters", "shows": shows})
    assert (answer.status_code, answer.content[:5]) == (200, b"%PDF-")


def test_what_isnt_there_is_said(ines):
    assert ines.get("/cards/keyboard.svg?setup=attic")[0] == 404
    assert ines.get("/cards/keyboard.svg?setup=ticket-counters&program=attic&scope=sheet")[0] == 404
    assert ines.get("/cards/keyboard.bmp?setup=ticket-counters")[0] == 422
