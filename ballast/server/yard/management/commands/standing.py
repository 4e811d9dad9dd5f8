import datetime as dt
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from ballast.server.accounts.models import Workspace
from ballast.server.edge import clock
from ballast.server.gauges import drawer
from ballast.server.yard import standings


class Command(BaseCommand):
    help = "Works out what there is to say of every rig and gauge of which something has changed; nothing depends on it being run."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--check", action="store_true", help="compare what is kept with what is worked out now")

    def handle(self, *args: Any, check: bool = False, **options: Any) -> None:
        anew, wrong = 0, []
        for workspace in Workspace.objects.order_by("pk"):
            actor = standings.reader(workspace)
            if actor is None:
                continue
            with clock.ahead(dt.timedelta(hours=workspace.ahead_h)):
                if check:
                    wrong += [f"{workspace}: {what}" for what in standings.differing(actor) + drawer.differing(actor)]
                drawer.renew(actor)
                while done := standings.renew(actor):
                    anew += done
        if wrong:
            raise CommandError("\n".join((*wrong, f"{len(wrong)} kept otherwise than it is.")))
        self.stdout.write(f"{anew} worked out anew." + (" What was kept is as it is." if check else ""))
