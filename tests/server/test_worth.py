"""What a key is worth, over the API: told where it is decided, by assumptions that the organisation changes."""

from amberkey.core.organisation.model import Organisation
from amberkey.core.worth.assumptions import ASSUMED
from amberkey.server.estate import current_organisation
from tests.server.unpacked import unpacked


def a_way(api):
    """A way out that changes something, of a clash whose people are more than a few."""
    setup = api.get("/lenses")[1][0]["setup"]
    groups = unpacked(api.get(f"/clashes?setup={setup}")[1])
    for group in sorted(groups, key=lambda g: -g["people"]):
        ways = api.get(f"/clashes/{group['identity']}/ways?setup={setup}")[1]
        for way in ways:
            if way["kind"] == "move" and way["worth"]["says"]:
                return group, way
    raise AssertionError("no clash has a way out that is worth anything")


def test_a_way_out_says_its_worth_in_points_until_uses_are_known(ines):
    _, way = a_way(ines)
    assert "assumed" in " ".join(way["worth"]["says"])
    assert all(w["assumed"] and w["people"] >= 5 for w in way["worth"]["weighed"])


def test_assumptions_are_changed_kept_short_and_undone(example, jorun, tove):
    items = [{"section": "roles", "before": None, "after": {"id": "pilot", "name": "Pilots"}}]
    assert jorun.post("/organisation/change", {"title": "Pilots", "items": items})[0] == 200
    status, found = jorun.get("/organisation/worth")
    assert (status, found["assumed"]) == (200, found["usual"])
    wanted = {**found["assumed"], "keystroke_ms": 200, "shares": {"pilot": 80}}
    assert tove.put("/organisation/worth", wanted)[0] == 403
    status, done = jorun.put("/organisation/worth", wanted)
    assert status == 200, done
    assert current_organisation().worth.keystroke_ms == 200
    organisation = current_organisation()
    assert isinstance(organisation, Organisation)
    assert organisation.to_json()["worth"] == {"keystroke_ms": 200, "shares": {"pilot": 80}}
    assert jorun.put("/organisation/worth", wanted)[0] == 409
    status, problem = jorun.put("/organisation/worth", {**wanted, "shares": {"cook": 5}})
    assert (status, "no role cook" in problem["title"]) == (400, True)
    for wrong in ({"keystroke_ms": -1}, {"share": 101}, {"weeks": 0}, {"keystroke_ms": "fast"}, {"speed": 1}):
        assert jorun.put("/organisation/worth", {**wanted, **wrong})[0] in (400, 422)
    assert jorun.post(f"/history/{done['id']}/undo")[0] == 200
    assert current_organisation().worth == ASSUMED


def test_a_profile_says_what_its_keys_are_worth(example, jorun):
    status, worth = jorun.get("/profiles/house/worth")
    assert status == 200, worth
    assert worth["says"]
    assert jorun.get("/profiles/attic/worth")[0] == 404
