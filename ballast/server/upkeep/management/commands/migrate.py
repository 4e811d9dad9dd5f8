from typing import Any

from django.apps import apps
from django.core.management.commands import migrate
from django.core.management.sql import emit_post_migrate_signal, emit_pre_migrate_signal
from django.db import connections, router
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder

# What asks for something else than all of it.
_PARTS = ("app_label", "migration_name", "plan", "check_unapplied", "fake", "fake_initial", "prune")


class Command(migrate.Command):
    """As Django's, but that a database with nothing in it is made as it stands now, in a moment, and not in all the steps that led
    here (a minute). That both give the same is a test (`test_upkeep`): a step that puts rows into an empty database fails it."""

    def handle(self, *args: Any, **options: Any) -> None:
        connection = connections[options["database"]]
        if any(options[part] for part in _PARTS) or connection.introspection.table_names():
            super().handle(*args, **options)
            return
        if not options["skip_checks"]:
            self.check(databases=[connection.alias])
        connection.prepare_database()
        said = options["verbosity"], options["interactive"], connection.alias
        emit_pre_migrate_signal(*said, stdout=self.stdout, plan=[])
        recorder = MigrationRecorder(connection)
        # One transaction: whoever is stopped on the way finds nothing there, and begins again.
        with connection.schema_editor() as editor:
            for app in apps.get_app_configs():
                for model in router.get_migratable_models(app, connection.alias):
                    if model._meta.can_migrate(connection):
                        editor.create_model(model)
            editor.create_model(recorder.Migration)
            for app_label, name in MigrationLoader(None).disk_migrations:
                recorder.Migration.objects.using(connection.alias).create(app=app_label, name=name)
        emit_post_migrate_signal(*said, stdout=self.stdout, plan=[])
        if options["verbosity"]:
            self.stdout.write("The database is there, as it stands now.")
