from django.apps import AppConfig
from django.db.models.signals import post_migrate, pre_migrate


class Gauges(AppConfig):
    name = "ballast.server.gauges"

    def ready(self) -> None:
        from ballast.server.gauges.marks import WATCH

        pre_migrate.connect(WATCH.drop, sender=self)
        post_migrate.connect(WATCH.create, sender=self)
