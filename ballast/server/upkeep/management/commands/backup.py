from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from ballast.server.upkeep import copies


class Command(BaseCommand):
    help = "Copies the database, in use or not, into one checked file with the secret key beside it."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", nargs="?", type=Path, help="where to; by default into backups/ beside the database")

    def handle(self, *args: Any, file: Path | None = None, **options: Any) -> None:
        try:
            made, holds = copies.backup(file)
        except copies.NotDone as no:
            raise CommandError(str(no)) from None
        self.stdout.write(f"{made}: {holds}. Checked; the secret key is beside it.")
