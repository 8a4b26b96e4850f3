"""Writes web/openapi.json and the front end's types from the API: `python tools/write_api.py` (needs ./amberkey test once)."""

import json
import os
import pathlib
import subprocess

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "amberkey.server.settings")

import django

django.setup()

from amberkey.server.api import api

WEB = pathlib.Path(__file__).resolve().parent.parent / "web"
(WEB / "openapi.json").write_text(json.dumps(api.get_openapi_schema(), ensure_ascii=False, indent=1) + "\n", encoding="utf-8")
(WEB / "src/api").mkdir(parents=True, exist_ok=True)
subprocess.run([WEB / "node_modules/.bin/openapi-typescript", "openapi.json", "-o", "src/api/schema.d.ts"], cwd=WEB, check=True)
