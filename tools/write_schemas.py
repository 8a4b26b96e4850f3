"""Writes the JSON Schemas of all document formats to docs/formats, from the models that check them."""

import json
import pathlib

from amberkey.core.formats import FORMATS, schema_of

TARGET = pathlib.Path(__file__).resolve().parent.parent / "docs/formats"

for name in FORMATS:
    path = TARGET / f"{name.split('/')[1]}.schema.json"
    path.write_text(json.dumps(schema_of(name), ensure_ascii=False, indent=1) + "\n", encoding="utf-8")
    print(path.name)
