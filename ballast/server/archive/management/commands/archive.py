import os
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor
from ballast.server.accounts.models import Membership
from ballast.server.archive import into, out
from ballast.server.edge.problems import Conflict


class Command(BaseCommand):
    help = (
        "Writes a workspace into an archive, or brings one into an empty workspace: for those too large for a browser."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--of", required=True, help="the sign-in name of a manager: their first workspace is meant")
        parser.add_argument("--workspace", type=int, help="the number of another one of theirs")
        parser.add_argument("--in", action="store_true", dest="come_in", help="bring the file in; else it is written")

    def handle(
        self, *args: Any, file: Path, of: str, workspace: int | None = None, come_in: bool = False, **options: Any
    ) -> None:
        manages = Membership.objects.filter(
            person__username=of, role=Membership.Role.MANAGER, off_at=None, workspace__practice_of=None
        )
        if workspace is not None:
            manages = manages.filter(workspace=workspace)
        member = manages.select_related("person", "workspace").order_by("pk").first()
        if member is None:
            raise CommandError(f"“{of}” manages no such workspace here.")
        actor = Actor(member.person, member.workspace, member.role)
        try:
            if come_in:
                with file.open("rb") as sent:
                    came = into.bring_in(actor, sent)
                self.stdout.write(
                    f"{came.workspace}: {came.rigs} rigs, {came.rounds} rounds, {came.readings} readings."
                )
            else:
                self._write(actor, file)
                self.stdout.write(f"{file}: {member.workspace.name}.")
        except (Refusal, Conflict, OSError) as no:
            raise CommandError(str(no)) from None

    def _write(self, actor: Actor, file: Path) -> None:
        """One's own alone, and whole or not there. Raises FileExistsError."""
        with open(file, "xb", opener=lambda path, flags: os.open(path, flags, 0o600)) as to:
            try:
                out.write(actor, to)
            except BaseException:
                file.unlink()
                raise
