from django.apps import AppConfig


class Assignments(AppConfig):
    name = "ballast.server.assignments"

    def ready(self) -> None:
        from ballast.server.assignments import services
        from ballast.server.rounds.seal import sealed

        # Sealing does what was given; nothing else does.
        sealed.connect(services.done, dispatch_uid="assignments")
