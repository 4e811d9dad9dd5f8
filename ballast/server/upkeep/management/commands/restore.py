from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from ballast.server.upkeep import copies


class Command(BaseCommand):
    help = (
        "Puts a copy in the place of the database, while no server has it open. What was there stands beside it after."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path, help="a copy that backup made")

    def handle(self, *args: Any, file: Path, **options: Any) -> None:
        connection.close()
        try:
            before, holds = copies.restore(file)
        except copies.NotDone as no:
            raise CommandError(str(no)) from None
        # A copy of an older version is brought up to this one.
        call_command("migrate", verbosity=0)
        self.stdout.write(f"Restored and checked: {holds}." + (f" What was there is in {before}." if before else ""))
