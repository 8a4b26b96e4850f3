"""Migrates the database and loads the example, in one process: `python -m amberkey.demo.prepare MACHINES_FOLDER`."""

import os


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "amberkey.server.settings")
    import django
    from django.core.management import call_command

    django.setup()
    call_command("migrate", interactive=False, verbosity=0)
    from amberkey.demo.load import main as load

    load()


if __name__ == "__main__":
    main()
