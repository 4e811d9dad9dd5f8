import json

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser

from ballast.server.api import api


class Command(BaseCommand):
    help = "Writes the API's OpenAPI document to web/openapi.json, or checks that it is current."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--check", action="store_true", help="write nothing; fail when the file is not current")

    def handle(self, *args: object, **options: object) -> None:
        path = settings.ROOT / "web" / "openapi.json"
        current = json.dumps(api.get_openapi_schema(path_prefix="/api/v1/"), indent=1, sort_keys=True) + "\n"
        if options["check"]:
            if not path.exists() or path.read_text(encoding="utf-8") != current:
                raise CommandError("web/openapi.json is not current. Run `make schema` and commit the result.")
            return
        path.write_text(current, encoding="utf-8")
