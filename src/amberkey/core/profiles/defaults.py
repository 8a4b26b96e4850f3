"""The layer below all profiles: what the makers of programs ship."""

from typing import Final

DEFAULT: Final = "default"
