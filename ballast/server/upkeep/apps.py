from django.apps import AppConfig


class Upkeep(AppConfig):
    name = "ballast.server.upkeep"

    def ready(self) -> None:
        from ballast.server.upkeep import checks  # noqa: F401
