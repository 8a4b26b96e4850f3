"""Takes addresses out of web/package-lock.json (who funds a package, where it was fetched): run after `npm install`."""

import json
import pathlib

LOCK = pathlib.Path(__file__).resolve().parent.parent / "web/package-lock.json"

lock = json.loads(LOCK.read_text(encoding="utf-8"))
for package in lock["packages"].values():
    for field in ("funding", "resolved", "bugs", "homepage"):
        package.pop(field, None)
LOCK.write_text(json.dumps(lock, indent=2, ensure_ascii=False) + "\n", encoding="utf-8")
