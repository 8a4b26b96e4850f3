"""The agent as files: its own, and the packages that it needs, as they are installed beside this very interpreter."""

import importlib.metadata
import importlib.util
import json
import pathlib
import platform
import sysconfig
from collections.abc import Iterator

import amberkey

NEEDED = ("cryptography", "cffi", "pycparser")
_BACKEND = "_cffi_backend"


def made_for() -> str:
    """The platform and the Python that the packages are made for."""
    return f"{sysconfig.get_platform()}, Python {'.'.join(platform.python_version_tuple()[:2])}"


def versions() -> dict[str, str]:
    """The version of each package that the agent needs."""
    return {name: importlib.metadata.version(name) for name in NEEDED}


def files() -> Iterator[tuple[str, bytes]]:
    """Every file with its path, in order: put into a folder, `python -m amberkey.agent` runs there."""
    own = pathlib.Path(amberkey.__file__).parent
    found = {"amberkey/__init__.py": own / "__init__.py"}
    for name, folder in (("amberkey/agent", own / "agent"), *((n, _place(n).parent) for n in NEEDED)):
        for file in folder.rglob("*"):
            if file.is_file() and "__pycache__" not in file.parts:
                found[f"{name}/{file.relative_to(folder).as_posix()}"] = file
    backend = _place(_BACKEND)
    found[backend.name] = backend
    for path in sorted(found):
        yield path, found[path].read_bytes()
    yield "versions.json", (json.dumps(versions(), indent=1) + "\n").encode()


def _place(module: str) -> pathlib.Path:
    spec = importlib.util.find_spec(module)
    if spec is None or spec.origin is None:
        raise FileNotFoundError(f"{module} isn't installed here.")
    return pathlib.Path(spec.origin)
