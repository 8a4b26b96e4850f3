"""Small organisations for tests, and drawn ones."""

import random

from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.programs.reference import system_tables

SYSTEMS = {p.platforms[0]: (p.id, p.version) for p in system_tables()}
_SIGNS = "abcdefghijkmnop"  # of pseudonyms
LAYOUTS = {"windows": ("de", "gb", "fr(azerty)"), "linux": ("us", "se"), "macos": ("us(mac)", "de(mac)")}
BODIES = {"windows": ("iso", "iso-no-pad"), "linux": ("ansi", "iso"), "macos": ("mac-ansi", "mac-iso")}


def machine(machine_id: str, platform: str = "windows", **more) -> dict:
    system, version = SYSTEMS[platform]
    return {
        "id": machine_id,
        "name": machine_id.title(),
        "platform": platform,
        "edition": "Pro",
        "layouts": [LAYOUTS[platform][0]],
        "body": BODIES[platform][0],
        "programs": [{"id": system, "version": version}],
        **more,
    }


def organisation(**more) -> dict:
    """Two departments, of which one is inside the other, two roles, two people, two machines."""
    return {
        "format": "amberkey/organisation@1",
        "id": "organisation",
        "name": "Strait",
        "profiles": ["house"],
        "departments": [
            {"id": "harbour", "name": "Harbour", "profiles": ["harbour"]},
            {"id": "control", "name": "Control room", "parent": "harbour", "profiles": ["control"]},
        ],
        "roles": [
            {"id": "pilot", "name": "Pilot", "profiles": ["pilot"]},
            {"id": "clerk", "name": "Clerk", "profiles": ["clerk"]},
        ],
        "people": [
            {"id": "ada", "name": "Ada", "department": "control", "roles": ["pilot", "clerk"], "profiles": ["ada"]},
            {"id": "desk", "name": "Desk", "department": "harbour", "stands_for": 5},
        ],
        "machines": [machine("one"), machine("two")],
        "seats": [{"person": "ada", "machine": "one"}, {"person": "desk", "machine": "two"}],
        **more,
    }


def read(value: dict):
    return read_document(value, FORMATS)


def drawn(rnd: random.Random) -> dict:
    """People and machines by chance, with few values, so that many of them agree."""
    machines = []
    for n in range(rnd.randint(1, 12)):
        platform = rnd.choice(("windows", "linux", "macos"))
        layouts = rnd.sample(LAYOUTS[platform], rnd.randint(1, 2))
        body = rnd.choice(BODIES[platform])
        profiles = ["kiosk"] if rnd.random() < 0.2 else []
        machines.append(machine(f"m{n}", platform, layouts=layouts, body=body, profiles=profiles))
    people = [
        {
            "id": f"p-{_SIGNS[n] * 8}",
            "name": f"P {n}",
            "department": rnd.choice(("harbour", "control")),
            "roles": rnd.sample(("pilot", "clerk"), rnd.randint(0, 2)),
            "profiles": ["own"] if rnd.random() < 0.1 else [],
            "stands_for": rnd.choice((1, 1, 4)),
        }
        for n in range(rnd.randint(1, 15))
    ]
    pairs = {(p["id"], rnd.choice(machines)["id"]) for p in people for _ in range(rnd.randint(0, 3))}
    seats = [{"person": p, "machine": m} for p, m in sorted(pairs)]
    for seat in seats:
        if rnd.random() < 0.5:
            seat["layout"] = rnd.choice(next(m for m in machines if m["id"] == seat["machine"])["layouts"])
    return organisation(machines=machines, people=people, seats=seats)
