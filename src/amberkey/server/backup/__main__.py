"""`python -m amberkey.server.backup write|restore|look FILE [--over]`.

The passphrase comes in the environment variable AMBERKEY_PASSPHRASE. Prints one line of JSON; a fault goes to standard error.
"""

import argparse
import json
import os
import pathlib
import sys
from typing import Any


def main() -> int:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "amberkey.server.settings")
    os.environ.setdefault("AMBERKEY_DB_POOL", "0")
    import django

    django.setup()
    from amberkey.server.backup.errors import BackupError

    parser = argparse.ArgumentParser()
    parser.add_argument("verb", choices=("write", "restore", "look"))
    parser.add_argument("file", type=pathlib.Path)
    parser.add_argument("--over", action="store_true")
    given = parser.parse_args()
    try:
        done = _do(given.verb, given.file, os.environ.get("AMBERKEY_PASSPHRASE", ""), given.over)
    except BackupError as error:
        print(error, file=sys.stderr)
        return 1
    except OSError as error:
        print(f"{given.file}: {error.strerror}. Choose another place, or make room.", file=sys.stderr)
        return 1
    print(json.dumps(done))
    return 0


def _do(verb: str, file: pathlib.Path, passphrase: str, over: bool) -> dict[str, Any]:
    from amberkey.server.backup.errors import BackupError
    from amberkey.server.backup.reading import look, restore
    from amberkey.server.backup.writing import write_backup

    if verb == "write":
        if file.exists():
            raise BackupError(f"{file} is there already. Give another name; a backup never writes over one.")
        part = file.with_name(f"{file.name}.part")
        try:
            with open(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as out:
                keys = (os.environ.get("AMBERKEY_SECRET_KEY", ""), os.environ.get("AMBERKEY_SIGNING_KEY", ""))
                manifest = write_backup(out, passphrase, *keys)
                out.flush()
                os.fsync(out.fileno())
            with file.open("xb"):  # of two backups at once, one has the name
                pass
            part.replace(file)
        finally:
            part.unlink(missing_ok=True)
    else:
        with file.open("rb") as data:
            manifest = look(data, passphrase) if verb == "look" else restore(data, passphrase, over=over)
    # An older backup has no key that signs bundles.
    told = {k: manifest.get(k, "") for k in ("version", "made_at", "key", "signing_key")}
    return {**_counted(), **told} if verb != "look" else manifest


def _counted() -> dict[str, int]:
    from amberkey.server.fleet.models import Agent
    from amberkey.server.library.models import Document, Revision
    from amberkey.server.people.models import User

    return {
        "documents": Document.objects.count(),
        "revisions": Revision.objects.count(),
        "accounts": User.objects.count(),
        "agents": Agent.objects.exclude(token_hash="").count(),
    }


if __name__ == "__main__":
    sys.exit(main())
