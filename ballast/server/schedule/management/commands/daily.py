from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand

from ballast.server.accounts import sessions, throttle
from ballast.server.accounts.models import Workspace
from ballast.server.earlier import services as earlier
from ballast.server.rigs import arrivals
from ballast.server.rounds import found_out
from ballast.server.schedule import notices


class Command(BaseCommand):
    help = (
        "For a timer, once a day at dawn: takes away what has expired, works out what is to be said, sends the lines by mail. "
        "Nothing depends on it for being right."
    )

    def handle(self, *args: Any, **options: Any) -> None:
        gone = sessions.forget() + throttle.forget() + earlier.forget() + arrivals.forget()
        for workspace in Workspace.objects.values_list("pk", flat=True):
            found_out.settle(workspace)
        call_command("standing", stdout=self.stdout)
        self.stdout.write(f"{gone} rows that had expired taken away. {notices.send()} lines sent.")
