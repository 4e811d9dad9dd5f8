from django.apps import AppConfig
from django.db.models.signals import post_migrate, pre_migrate


class Yard(AppConfig):
    name = "ballast.server.yard"

    def ready(self) -> None:
        from ballast.server.yard.marks import WATCH

        pre_migrate.connect(WATCH.drop, sender=self)
        post_migrate.connect(WATCH.create, sender=self)
