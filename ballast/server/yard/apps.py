from django.apps import AppConfig
from django.db.models.signals import post_migrate, pre_migrate


class Yard(AppConfig):
    name = "ballast.server.yard"

    def ready(self) -> None:
        from ballast.server.yard import marks

        # A migration may make tables anew, and what watches them would be gone or in its way.
        pre_migrate.connect(marks.drop, sender=self)
        post_migrate.connect(marks.create, sender=self)
