from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from ballast.demo import world
from ballast.server.accounts.services import mark, nobody_yet, not_here


class Command(BaseCommand):
    help = "Builds the demo world in an empty database. Does nothing where it stands already."

    def handle(self, *args: object, **options: object) -> None:
        if not settings.DEMO:
            raise CommandError("The demo world belongs into a demo database only: set BALLAST_MODE=demo.")
        if no := not_here("demo"):
            raise CommandError(no)
        if world.built():
            self.stdout.write("The demo world stands already.")
            return
        if not nobody_yet():
            raise CommandError("Somebody is in this database already: set BALLAST_VAR to another folder.")
        mark("demo")
        world.build()
        self.stdout.write("The demo world is built.")
