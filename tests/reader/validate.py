# SPDX-License-Identifier: MIT
"""validate.py SCHEMA_FOLDER FILE...: each file against the schema of its kind; one line for each that does not fit."""
import json, os, sys
from jsonschema import Draft202012Validator
from ruamel.yaml import YAML


def plain(value):
    if isinstance(value, dict):
        return {str(k): plain(v) for k, v in value.items()}
    if isinstance(value, list):
        return [plain(v) for v in value]
    return value if isinstance(value, (bool, int, float)) else str(value)


schemas, wrong = {}, 0
for name in sys.argv[2:]:
    yaml = YAML(typ="safe", pure=True)  # YAML 1.2: yes, no and on are words
    with open(name, encoding="utf-8") as text:
        data = plain(yaml.load(text))
    kind = data["tinyladder"].split()[0]
    if kind not in schemas:
        with open(os.path.join(sys.argv[1], kind + ".schema.json"), encoding="utf-8") as text:
            schemas[kind] = Draft202012Validator(json.load(text))
            Draft202012Validator.check_schema(schemas[kind].schema)
    errors = list(schemas[kind].iter_errors(data))
    wrong += len(errors) > 0
    if errors:
        deepest = max(errors, key=lambda e: len(e.absolute_path))
        print(f"{name}: {'/'.join(map(str, deepest.absolute_path))}: {deepest.message[:200]}")
print(f"{len(sys.argv) - 2} files, {wrong} do not fit")
