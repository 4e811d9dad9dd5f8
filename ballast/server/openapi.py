"""Writes the API's OpenAPI document to web/openapi.json; with --check only says whether it is current."""

import json
import re
import sys
from typing import Any

import django
from django.conf import settings

_REF = re.compile(r'"#/components/schemas/([^"]+)"')


def _reached(schemas: dict[str, Any], start: Any) -> set[str]:
    """The names of all schemas that a part of the document leads to."""
    reached: set[str] = set()
    ahead = _REF.findall(json.dumps(start))
    while ahead:
        if (name := ahead.pop()) not in reached:
            reached.add(name)
            ahead += _REF.findall(json.dumps(schemas[name]))
    return reached


def document() -> str:
    from ballast.server.api import api

    said = json.loads(json.dumps(api.get_openapi_schema(path_prefix="/api/v1/")))
    schemas = said["components"]["schemas"]
    calls = [call for path in said["paths"].values() for call in path.values()]
    asked = _reached(schemas, [call.get("requestBody") for call in calls])
    # An answer has all its fields: what has a default is left out only by who asks.
    for name in _reached(schemas, [call["responses"] for call in calls]) - asked:
        if "properties" in schemas[name]:
            schemas[name]["required"] = sorted(schemas[name]["properties"])
    return json.dumps(said, indent=1, sort_keys=True) + "\n"


def main() -> None:
    django.setup()
    path = settings.ROOT / "web" / "openapi.json"
    if "--check" not in sys.argv:
        path.write_text(document(), encoding="utf-8")
    elif not path.exists() or path.read_text(encoding="utf-8") != document():
        sys.exit("web/openapi.json is not current. Run `make schema` and commit the result.")


if __name__ == "__main__":
    main()
