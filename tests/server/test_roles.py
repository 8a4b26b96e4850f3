"""Who may call which endpoint: every one of them stands here with the lowest role that may."""

import re

import pytest

from amberkey.server.api import api
from amberkey.server.schema import Schema
from tests.server.conftest import Api

ROLES = ("reader", "editor", "releaser", "administrator")
NAMES = {"reader": "tove", "editor": "jorun", "releaser": "ines", "administrator": "arvid"}
# Without anybody signed in: looking who is, and signing in. With a code: enrolling. With a token: the other things of agents.
ANYBODY, CODE, AGENT = "anybody", "code", "agent"
MATRIX = """
reader         GET    /api/releases
releaser       POST   /api/releases
reader         GET    /api/machines/waiting
anybody        GET    /api/session
anybody        POST   /api/session
reader         DELETE /api/session
reader         PUT    /api/session/password
reader         GET    /api/session/open
reader         POST   /api/session/others/end
anybody        POST   /api/links/look
anybody        POST   /api/links/use
administrator  GET    /api/accounts
administrator  POST   /api/accounts
administrator  PUT    /api/accounts/{account_id}
administrator  POST   /api/accounts/{account_id}/link
administrator  POST   /api/accounts/{account_id}/sessions/end
administrator  GET    /api/audit
administrator  GET    /api/audit.csv
reader         GET    /api/beginning
editor         POST   /api/beginning/organisation
reader         GET    /api/catalogue
editor         POST   /api/catalogue
editor         POST   /api/catalogue/file
reader         GET    /api/catalogue/{program}/{version}
reader         POST   /api/catalogue/{program}/{version}/plan
editor         PUT    /api/catalogue/{program}/{version}
reader         GET    /api/catalogue/{program}/{version}/settings-files
reader         POST   /api/catalogue/{program}/{version}/settings-files
editor         PUT    /api/catalogue/{program}/{version}/settings-files
reader         GET    /api/tasks
editor         POST   /api/tasks
reader         GET    /api/tasks/neutral
editor         POST   /api/command-lists
editor         POST   /api/command-lists/pasted
editor         GET    /api/command-lists/{list_id}
editor         PUT    /api/command-lists/{list_id}
editor         GET    /api/command-lists/{list_id}/rows
editor         POST   /api/command-lists/{list_id}/take
reader         GET    /api/catalogue/{program}/{version}/proposals
editor         POST   /api/catalogue/{program}/{version}/tasks
editor         POST   /api/catalogue/{program}/{version}/refusals
editor         POST   /api/tasks/neutral
editor         PUT    /api/tasks/one/{task_id}
reader         GET    /api/tasks/one/{task_id}/commands
reader         POST   /api/tasks/merge/plan
editor         POST   /api/tasks/merge
editor         POST   /api/tasks/one/{task_id}/split
reader         POST   /api/tasks/one/{task_id}/plan
reader         POST   /api/tasks/one/{task_id}/split/plan
reader         POST   /api/tasks/families/{family_id}/plan
reader         GET    /api/tasks/one/{task_id}/removal
editor         POST   /api/tasks/one/{task_id}/removal
editor         PUT    /api/tasks/families/{family_id}
editor         POST   /api/tasks/families/{family_id}/removal
editor         POST   /api/profiles/new
editor         PUT    /api/profiles/{profile_id}/about
reader         GET    /api/profiles/{profile_id}/holders
editor         POST   /api/profiles/{profile_id}/holders
reader         GET    /api/standard/beginnings
editor         POST   /api/standard/beginnings
reader         GET    /api/profiles
releaser       POST   /api/profiles/{profile_id}/release
editor         POST   /api/profiles/{profile_id}/lock
editor         POST   /api/profiles/{profile_id}/reserve
reader         GET    /api/profiles/found
reader         GET    /api/profiles/named
reader         GET    /api/profiles/one/{profile_id}
reader         GET    /api/profiles/offers
reader         GET    /api/profiles/offers/{program}
reader         GET    /api/profiles/{profile_id}/held
reader         GET    /api/profiles/{profile_id}/levels/{program}
reader         GET    /api/profiles/{profile_id}/travels
editor         POST   /api/profiles/{profile_id}/items/plan
editor         POST   /api/profiles/{profile_id}/items
editor         POST   /api/profiles/{profile_id}/entries/carry/plan
editor         POST   /api/profiles/{profile_id}/entries/carry
reader         GET    /api/profiles/{profile_id}/entries/spare
editor         POST   /api/profiles/{profile_id}/free
reader         GET    /api/documents/{kind}/{doc_id}
editor         PUT    /api/documents/{kind}/{doc_id}
editor         POST   /api/clashes/{identity}/decision
reader         POST   /api/settlements/plan
editor         POST   /api/settlements
editor         POST   /api/allowances
editor         POST   /api/meanings
reader         GET    /api/commands
editor         POST   /api/commands/bring
editor         POST   /api/commands/bring/plan
reader         GET    /api/commands/choices
reader         GET    /api/commands/free
reader         GET    /api/commands/ids
reader         GET    /api/commands/life
reader         POST   /api/commands/list.{form}
editor         POST   /api/commands/reset
editor         POST   /api/commands/reset/plan
editor         POST   /api/commands/task
reader         GET    /api/today
reader         GET    /api/cards
editor         POST   /api/cards
reader         GET    /api/cards/choices
reader         POST   /api/cards/draw
reader         POST   /api/cards/many
reader         GET    /api/cards/many/{batch_id}
reader         GET    /api/cards/many/{batch_id}/{name}
reader         GET    /api/cards/card.{form}
editor         POST   /api/cards/{number}/back
editor         POST   /api/cards/{number}/page
editor         POST   /api/cards/{number}/page/end
reader         POST   /api/today/aside
reader         POST   /api/today/back
reader         POST   /api/today/feed
reader         POST   /api/today/feed/end
anybody        GET    /api/feed/{token}/today.atom
reader         POST   /api/commands/tasks
reader         GET    /api/lookup
reader         GET    /api/upgrades
reader         GET    /api/upgrades/{program}
editor         POST   /api/upgrades/{program}
reader         POST   /api/commands/plan
editor         POST   /api/commands/shortcuts
editor         POST   /api/try/drafts
reader         GET    /api/guide
reader         GET    /api/history
editor         POST   /api/history/{change_id}/undo
editor         POST   /api/history/{change_id}/redo
reader         GET    /api/documents/{kind}/{doc_id}/revisions
reader         GET    /api/documents/{kind}/{doc_id}/words
reader         GET    /api/documents/{kind}/{doc_id}/revisions/{number}
editor         PUT    /api/documents/{kind}/{doc_id}/revisions/{number}/name
editor         POST   /api/documents/{kind}/{doc_id}/back
editor         POST   /api/documents/{kind}/{doc_id}/delete
reader         GET    /api/deleted
editor         POST   /api/deleted/{kind}/{doc_id}
reader         GET    /api/history/{change_id}
editor         POST   /api/history/{change_id}/undo-some
reader         GET    /api/compare
reader         POST   /api/compare/plan
reader         POST   /api/compare/bundle
editor         POST   /api/compare/take
reader         GET    /api/profiles/{profile_id}/bundle/contents
reader         POST   /api/profiles/{profile_id}/import/plan
reader         GET    /api/setups/{setup_id}/files
reader         GET    /api/setups/{setup_id}/files/together
reader         GET    /api/setups/{setup_id}/files/{program}/{number}
reader         POST   /api/setups/{setup_id}/files/{program}/{number}
reader         GET    /api/names.{form}
reader         POST   /api/names/preview
editor         POST   /api/names
reader         GET    /api/approvals
releaser       POST   /api/approvals
releaser       POST   /api/approvals/withdrawn
reader         GET    /api/worklist
reader         GET    /api/worklist.{form}
reader         GET    /api/worklist/{setup_id}
editor         POST   /api/worklist/ticks
editor         POST   /api/worklist/sheet
reader         GET    /api/keys
reader         GET    /api/keys/card
administrator  POST   /api/keys
administrator  POST   /api/keys/withdrawn
administrator  POST   /api/keys/next
administrator  GET    /api/space
administrator  POST   /api/space/plan
administrator  POST   /api/space/thin
reader         GET    /api/facts
editor         POST   /api/facts/{program}/{version}
reader         GET    /api/lenses
reader         GET    /api/programs
reader         GET    /api/programs/{program}/{version}/behaviour
editor         PUT    /api/programs/{program}/{version}/behaviour
reader         POST   /api/programs/{program}/{version}/behaviour/try
reader         POST   /api/programs/{program}/{version}/behaviour/plan
reader         GET    /api/clashes
reader         GET    /api/clashes/meant
reader         GET    /api/clashes/decided
reader         GET    /api/clashes/{identity}/ways
reader         GET    /api/clashes/{identity}/task
reader         GET    /api/clashes/{identity}/landings
reader         GET    /api/keyboard
reader         POST   /api/keyboard
reader         POST   /api/press
reader         POST   /api/try
reader         GET    /api/own-shortcuts
reader         PUT    /api/own-shortcuts/{action}
reader         GET    /api/unseen
reader         GET    /api/organisation/table/{section}
reader         GET    /api/organisation/setups
reader         GET    /api/organisation/worth
editor         PUT    /api/organisation/worth
reader         GET    /api/profiles/{profile_id}/worth
releaser       POST   /api/rollouts/worth
editor         POST   /api/organisation/plan
editor         POST   /api/organisation/change
editor         POST   /api/organisation/bulk/plan
editor         POST   /api/organisation/bulk
reader         GET    /api/organisation
reader         GET    /api/organisation/lists/{kind}.{form}
editor         POST   /api/organisation/lists/{kind}
editor         GET    /api/organisation/imports/{import_id}
editor         POST   /api/organisation/imports/{import_id}/check
editor         POST   /api/organisation/imports/{import_id}/take
editor         GET    /api/organisation/effective
editor         GET    /api/organisation/without
reader         GET    /api/organisation/roles/{role}/uses
editor         POST   /api/organisation/roles/{role}/uses
reader         POST   /api/standard/plan
editor         POST   /api/standard/lines
editor         POST   /api/standard/exceptions
editor         POST   /api/standard/meanings
reader         GET    /api/standard/release
releaser       POST   /api/standard/release
reader         GET    /api/standard/carry
reader         GET    /api/standard
reader         GET    /api/standard/tasks/{task}
reader         GET    /api/standard/keys
reader         GET    /api/standard.{form}
reader         GET    /api/standard/lines.{form}
reader         GET    /api/coverage.{form}
reader         GET    /api/clashes.{form}
reader         GET    /api/profiles/{profile_id}/sheet.{form}
reader         GET    /api/catalogue/{program}/{version}/commands.{form}
reader         GET    /api/standard/drafts
editor         POST   /api/standard/drafts
editor         POST   /api/standard/drafts/{draft_id}
reader         GET    /api/standard/drafts/{draft_id}/plan
editor         POST   /api/standard/drafts/{draft_id}/take
editor         POST   /api/standard/drafts/{draft_id}/removal
reader         GET    /api/standard/rooms
reader         GET    /api/standard/rooms/commands
reader         POST   /api/standard/rooms/plan
editor         POST   /api/standard/rooms
editor         POST   /api/standard/drafts/{draft_id}/rooms
reader         POST   /api/standard/lend/plan
editor         POST   /api/standard/lend
reader         GET    /api/standard/sets
editor         POST   /api/standard/sets/removal
reader         GET    /api/standard/findings
reader         GET    /api/clashes/{identity}/standard
editor         POST   /api/clashes/{identity}/standard
reader         GET    /api/cards/keyboard.{form}
reader         GET    /api/proposals
editor         POST   /api/proposals
reader         GET    /api/proposals/{proposal_id}
editor         POST   /api/proposals/{proposal_id}/stop
editor         POST   /api/proposals/{proposal_id}/on
reader         GET    /api/proposals/{proposal_id}/points/{point_id}
reader         GET    /api/proposals/{proposal_id}/points/{point_id}/keyboard
editor         POST   /api/proposals/{proposal_id}/points/{point_id}/draft
reader         GET    /api/records
editor         POST   /api/records
editor         POST   /api/records/{record_id}/removal
reader         GET    /api/records/untested
reader         GET    /api/records.csv
reader         GET    /api/profiles/{profile_id}/bundle
reader         POST   /api/profiles/{profile_id}/import/preview
editor         POST   /api/profiles/{profile_id}/import
reader         GET    /api/machines
releaser       POST   /api/machines/{machine_id}/apply
releaser       POST   /api/machines/{machine_id}/code
editor         GET    /api/nightly
reader         GET    /api/nightly/waiting
administrator  POST   /api/nightly
administrator  POST   /api/nightly/{sender_id}/revoke
editor         GET    /api/nightly/{sender_id}/sent
editor         POST   /api/nightly/lists/{sent_id}/yes
editor         POST   /api/nightly/lists/{sent_id}/no
agent          POST   /api/inbox/{kind}
agent          GET    /api/inbox/lists/{sent_id}
code           POST   /api/agent/enrol
code           POST   /api/agent/enrol-many
editor         GET    /api/surveys/newest
editor         POST   /api/surveys
editor         POST   /api/surveys/files
editor         POST   /api/surveys/{survey_id}/plan
editor         POST   /api/surveys/{survey_id}/take
editor         POST   /api/surveys/{survey_id}/dropped
reader         GET    /api/machines/shown
reader         GET    /api/agents/package
reader         GET    /api/agents/package.zip
editor         POST   /api/machines/{machine_id}/facts
releaser       GET    /api/enrolment-keys
releaser       POST   /api/enrolment-keys
releaser       POST   /api/enrolment-keys/{key_id}
releaser       GET    /api/agents/{agent_id}/people
releaser       POST   /api/agents/{agent_id}/home
releaser       POST   /api/agents/{agent_id}/take-off
releaser       GET    /api/rollouts/offered
releaser       POST   /api/rollouts/draw
reader         GET    /api/rollouts
releaser       POST   /api/rollouts
reader         GET    /api/rollouts/{plan_id}
releaser       POST   /api/rollouts/{plan_id}/pause
releaser       POST   /api/rollouts/{plan_id}/go-on
releaser       POST   /api/rollouts/{plan_id}/take-back
releaser       POST   /api/rollouts/{plan_id}/waves
releaser       POST   /api/rollouts/{plan_id}/waves/draw
releaser       POST   /api/rollouts/{plan_id}/machines/{machine_id}/take-back
releaser       POST   /api/rollouts/{plan_id}/machines/{machine_id}/try-again
releaser       POST   /api/rollouts/{plan_id}/machines/{machine_id}/without
releaser       POST   /api/rollouts/{plan_id}/machines/{machine_id}/put-right
editor         GET    /api/machines/files/{file_id}/difference
editor         GET    /api/drift
editor         POST   /api/drift/take
editor         POST   /api/drift/{drift_id}/leave
editor         POST   /api/drift/{drift_id}/again
agent          POST   /api/agent/work
agent          POST   /api/agent/leave
agent          POST   /api/agent/facts
agent          POST   /api/agent/seen
agent          POST   /api/agent/orders/{order_id}
"""


def matrix() -> dict[str, str]:
    rows = (line.split() for line in MATRIX.strip().splitlines())
    return {f"{method} {path}": who for who, method, path in rows}


def endpoints() -> set[str]:
    paths = api.get_openapi_schema()["paths"]
    return {f"{method.upper()} {path}" for path, methods in paths.items() for method in methods}


def test_every_endpoint_stands_in_the_matrix():
    assert set(matrix()) == endpoints()


@pytest.fixture
def everybody(example):
    return {None: Api(), **{role: Api(name) for role, name in NAMES.items()}}


def call(one: Api, endpoint: str) -> int:
    """An empty request: whoever may call is told what is missing, or answered."""
    method, path = endpoint.split()
    path = re.sub(r"\{(order_id|import_id|list_id|sender_id|sent_id)\}", "00000000-0000-0000-0000-000000000000", path)
    # Nobody has that number: an account that is there would be closed to whoever asks next.
    path = re.sub(r"\{(change_id|record_id|draft_id|account_id)\}", "999999999", path)
    path = re.sub(r"\{(\w+_id)\}", "none", path)
    path = re.sub(r"\{\w+\}", "none", path)
    return one.client.generic(method, path, b"" if method == "GET" else b"{}", "application/json").status_code


def test_who_may_not_is_refused_and_who_may_is_not(everybody):
    wrong = []
    for endpoint, who in matrix().items():
        if endpoint == "DELETE /api/session":
            continue
        for role, one in everybody.items():
            status = call(one, endpoint)
            if who in (ANYBODY, CODE):
                right = status != 401
            elif who == AGENT or role is None:
                right = status == 401
            elif ROLES.index(role) < ROLES.index(who):
                right = status == 403
            else:
                right = status not in (401, 403, 500)
            if not right:
                wrong.append((endpoint, who, role, status))
    assert wrong == []


def test_an_agent_with_a_token_is_nobody_else(example, ines):
    code = ines.post("/machines/harbour-desk-2/code")[1]["code"]
    token = Api().post("/agent/enrol", {"code": code})[1]["token"]
    agent = Api()
    bearer = {"Authorization": f"Bearer {token}"}
    assert agent.post("/agent/work", **bearer)[0] == 200
    for endpoint, who in matrix().items():
        if who in ROLES and endpoint.startswith("GET"):
            path = re.sub(r"\{\w+\}", "1", endpoint.split()[1])
            assert agent.client.get(path, headers=bearer).status_code == 401, endpoint


def test_no_two_shapes_of_the_api_have_one_name():
    """The OpenAPI document knows them by name alone: of two, one would be taken for the other."""
    seen: dict[str, type] = {}

    def look(kind: type) -> None:
        for one in kind.__subclasses__():
            if not one.__name__.startswith("_") and one.__module__.startswith("amberkey"):
                assert seen.setdefault(one.__name__, one) is one, f"{one.__module__} and {seen[one.__name__].__module__}"
            look(one)

    look(Schema)
    assert len(seen) > 200
