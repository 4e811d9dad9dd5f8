"""Writes the API's OpenAPI document to web/openapi.json; with --check only says whether it is current."""

import json
import sys

import django
from django.conf import settings


def document() -> str:
    from ballast.server.api import api

    return json.dumps(api.get_openapi_schema(path_prefix="/api/v1/"), indent=1, sort_keys=True) + "\n"


def main() -> None:
    django.setup()
    path = settings.ROOT / "web" / "openapi.json"
    if "--check" not in sys.argv:
        path.write_text(document(), encoding="utf-8")
    elif not path.exists() or path.read_text(encoding="utf-8") != document():
        sys.exit("web/openapi.json is not current. Run `make schema` and commit the result.")


if __name__ == "__main__":
    main()
