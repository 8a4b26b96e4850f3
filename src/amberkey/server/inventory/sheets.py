"""The sheet through a lens, put together once for each state of the documents."""

import threading
from collections.abc import Iterable
from concurrent.futures import ThreadPoolExecutor
from weakref import WeakKeyDictionary

from amberkey.core.clashes.estate import Estate
from amberkey.core.inventory.choosing import ORDERS, order_of
from amberkey.core.inventory.rows import Row, Sheet, sheet_of
from amberkey.server.estate import board_of, current_estate, in_sight
from amberkey.server.people.sight import sees_personal
from amberkey.server.problems import NotFound, Problem

ALL = "all"
"""What stands for every setup in use where a lens is asked for."""
_sheets: WeakKeyDictionary[Estate, dict[tuple[str, bool], tuple[Estate, Sheet]]] = WeakKeyDictionary()
_making = threading.Lock()
_ahead = ThreadPoolExecutor(1, thread_name_prefix="orders")


def _put_in_order(sheet: Sheet) -> None:
    """Works out, while the sheet is read, where each row stands in each order that may be asked for next."""
    for order in ORDERS:
        order_of(sheet, order)


def sheet_through(lens: str) -> Sheet:
    """The sheet through a setup, or through all of those that whoever asks may see. Raises NotFound."""
    estate, released = current_estate(), current_estate(released=True)
    if lens != ALL:
        board_of(estate, lens)
    with _making:  # two requests at once would both put it together
        known = _sheets.setdefault(estate, {})
        key = (lens, sees_personal())
        if key not in known or known[key][0] is not released:
            setups = [i for i in estate.setups if in_sight(i)] if lens == ALL else [lens]
            known[key] = released, sheet_of(estate, setups, released if released.setups else None)
            _ahead.submit(_put_in_order, known[key][1])
        return known[key][1]


def rows_named(sheet: Sheet, ids: Iterable[str]) -> list[Row]:
    """The rows of some ids, each once. Raises NotFound; Problem where none is named."""
    found = []
    for one in dict.fromkeys(ids):
        row = sheet.by_id.get(one)
        if row is None:
            raise NotFound(f"command {one[:80]}")
        found.append(row)
    if not found:
        raise Problem(400, "No command is chosen.", cure="Choose some first.")
    return found
