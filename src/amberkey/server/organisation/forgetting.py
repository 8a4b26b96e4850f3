"""`python -m amberkey.server.organisation.forgetting PERSON` forgets a person.

Prints one line of JSON; a fault goes to standard error.
"""

import argparse
import dataclasses
import json
import os
import sys


def main() -> int:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "amberkey.server.settings")
    os.environ.setdefault("AMBERKEY_DB_POOL", "0")
    import django

    django.setup()
    from amberkey.server.organisation.verbs.forget import forget
    from amberkey.server.problems import Problem

    parser = argparse.ArgumentParser()
    parser.add_argument("person")
    try:
        done = forget(parser.parse_args().person)
    except Problem as problem:
        print(f"{problem} {problem.body['cure']}".strip(), file=sys.stderr)
        return 1
    print(json.dumps(dataclasses.asdict(done)))
    return 0


if __name__ == "__main__":
    sys.exit(main())
