from django.apps import AppConfig


class Yard(AppConfig):
    name = "ballast.server.yard"

    def ready(self) -> None:
        from ballast.server.yard.marks import WATCH

        WATCH.over(self)
