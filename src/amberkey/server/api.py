"""The API: one router an app, errors as problem+json, everything signed in unless it says otherwise."""

from ninja import NinjaAPI
from ninja.security import SessionAuth

from amberkey import __version__
from amberkey.server import problems
from amberkey.server.exchange.api import router as exchange
from amberkey.server.fleet.api import agent
from amberkey.server.fleet.api import router as fleet
from amberkey.server.library.api import router as library
from amberkey.server.organisation.api import router as organisation
from amberkey.server.people.api import router as people
from amberkey.server.records.api import router as records
from amberkey.server.standard.api import router as standard
from amberkey.server.workbench.api import router as workbench

api = NinjaAPI(title="Amber Key", version=__version__, auth=SessionAuth(), urls_namespace="api", docs_url=None)
problems.install(api)
for router in (people, library, workbench, organisation, standard, records, exchange, fleet):
    api.add_router("", router)
api.add_router("/agent", agent)
