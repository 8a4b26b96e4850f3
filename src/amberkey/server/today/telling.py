"""`python -m amberkey.server.today.telling [--json] [ACCOUNT]` tells what needs somebody today.

Without an account it is what a releaser would be told who put nothing aside. Prints to standard output; a fault goes to
standard error.
"""

import argparse
import os
import sys


def main() -> int:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "amberkey.server.settings")
    os.environ.setdefault("AMBERKEY_DB_POOL", "0")
    import django

    django.setup()
    from django.db import ProgrammingError

    from amberkey.server.people.models import Role, User
    from amberkey.server.people.sight import look_as
    from amberkey.server.today.api import today_of

    parser = argparse.ArgumentParser(prog="amberkey today")
    parser.add_argument("account", nargs="?", help="whose day it is, by the name with which they sign in")
    parser.add_argument("--json", action="store_true", help="as JSON")
    given = parser.parse_args()
    user: User | None = User(username="", role=Role.RELEASER)
    try:
        if given.account:
            user = User.objects.filter(username=given.account, is_active=True).first()
        if user is None:
            print(f"There is no account {given.account}.", file=sys.stderr)
            return 1
        look_as(user.acting_role)
        found = today_of(user)
    except ProgrammingError:  # a database in which nothing was ever begun
        print("There is nothing to tell yet: start Amber Key first.", file=sys.stderr)
        return 1
    if given.json:
        print(found.model_dump_json(indent=1))
        return 0
    for one in found.matters:
        print(" ".join(filter(None, (f"{one.worse_on}:" if one.worse_on else "", one.says, _people(one.people)))))
    if not found.matters:
        print("Nothing needs you today.")
    return 0


def _people(people: int) -> str:
    return f"({people} {'person' if people == 1 else 'people'})" if people else ""


if __name__ == "__main__":
    sys.exit(main())
