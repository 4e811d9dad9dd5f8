from typing import Any

from django.db import migrations, models

from ballast.server.edge.packed import PackedField

_SLICE = 500


def _over(apps: Any, since: str, to: str) -> None:
    """A slice of axles at a time: never the working of all in memory."""
    axles = apps.get_model("targets", "TargetAxle").objects.order_by("pk")
    last = 0
    while rows := list(axles.filter(pk__gt=last).only(since)[:_SLICE]):
        for row in rows:
            setattr(row, to, getattr(row, since))
        axles.bulk_update(rows, [to])
        last = rows[-1].pk


class Migration(migrations.Migration):
    dependencies = [("targets", "0008_withdrawn")]

    operations = [
        migrations.AddField("targetaxle", "answer_packed", PackedField(null=True)),
        # Back to before it: what was dropped comes again without a value first.
        migrations.AlterField("targetaxle", "answer", models.JSONField(null=True)),
        migrations.RunPython(
            lambda apps, _: _over(apps, "answer", "answer_packed"), lambda apps, _: _over(apps, "answer_packed", "answer")
        ),
        migrations.RemoveField("targetaxle", "answer"),
        migrations.RenameField("targetaxle", "answer_packed", "answer"),
        migrations.AlterField("targetaxle", "answer", PackedField()),
    ]
