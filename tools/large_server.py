"""A server, a worker and a browser on a large made-up organisation, in a database of their own, for benchmarks."""

import contextlib
import json
import os
import pathlib
import shutil
import subprocess
import sys
from collections.abc import Iterator

from make_organisation import Size, make
from playwright.sync_api import Page, sync_playwright

from amberkey.launcher import state
from amberkey.launcher.postgres import Cluster
from amberkey.launcher.processes import Processes

ROOT = pathlib.Path(__file__).resolve().parent.parent
ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking", "--disable-sync"]
LOAD = """
import json, pathlib, sys, django
django.setup()
from django.core.management import call_command
call_command("migrate", interactive=False, verbosity=0)
from amberkey.demo.load import load_documents, load_people
load_documents(load_people(), pathlib.Path(sys.argv[1]))
"""


@contextlib.contextmanager
def running(size: Size, folder: pathlib.Path) -> Iterator[Page]:
    """A page signed in to an organisation of that size; everything is stopped afterwards."""
    for document in make(size):
        if document.format != "amberkey/program@1" or json.loads(document.to_bytes()).get("kind") != "system":
            (folder / f"{document.format.split('/')[1]}-{document.id}.json").write_bytes(document.to_bytes())
    cluster = Cluster("bench", fast=True)
    if cluster.folder.exists():  # what an earlier run left would be measured too
        cluster.start()
        cluster.stop()
        shutil.rmtree(cluster.folder)
    cluster.start()
    port = state.free_port()
    env = {**os.environ, **cluster.environment(), "PYTHONPATH": str(ROOT / "src"), "AMBERKEY_SECRET_KEY": "bench"}
    env["DJANGO_SETTINGS_MODULE"] = "amberkey.server.settings"
    processes = Processes()
    try:
        subprocess.run([sys.executable, "-c", LOAD, str(folder)], env=env, check=True)
        web = [sys.executable, "-m", "gunicorn", "amberkey.server.wsgi:application", "--bind", f"127.0.0.1:{port}"]
        processes.start("bench-web", [*web, "--threads", "4"], env)
        processes.start("bench-worker", [sys.executable, "-m", "amberkey.server.jobs"], env)
        processes.wait_for("bench-web", f"http://127.0.0.1:{port}/api/session")
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
            page = browser.new_page(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
            page.set_default_timeout(120_000)
            page.goto(f"http://127.0.0.1:{port}/organisation/people")
            page.get_by_label("Name").fill("ines")
            page.get_by_label("Password").fill("ferry-crossing")
            page.get_by_role("button", name="Sign in").click()
            page.get_by_role("status").filter(has_text="sign-ins").wait_for()
            yield page
            browser.close()
    finally:
        processes.stop()
        cluster.stop()
