from django.apps import AppConfig


class Gauges(AppConfig):
    name = "ballast.server.gauges"

    def ready(self) -> None:
        from ballast.server.gauges.marks import WATCH

        WATCH.over(self)
