"""What is printed on the keys of a layout, for naming keys by position."""

from collections.abc import Mapping
from functools import lru_cache

from amberkey.core.keys.names import case_of_key
from amberkey.core.layouts.layout import Layout


@lru_cache(maxsize=256)
def printed_on(layout: Layout) -> Mapping[str, str]:
    """W3C code to cap, for the writing keys and the pad's decimal key."""
    caps = {code: case_of_key(levels[0].text) for code, levels in layout.keys.items() if levels[0] and code != "Space"}
    return {**caps, "NumpadDecimal": layout.decimal}
