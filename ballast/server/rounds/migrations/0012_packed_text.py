from collections.abc import Callable
from typing import Any

from django.db import migrations, models

from ballast.server.edge.packed import PackedField

_FIELDS = ("sheet", "result", "stands", "split")
_SLICE = 200


def _over(apps: Any, change: Callable[[Any], None]) -> None:
    """A slice of rounds at a time: never the text of all in memory."""
    texts = apps.get_model("rounds", "RoundText")
    last = 0
    while rows := list(texts.objects.filter(pk__gt=last).order_by("pk")[:_SLICE]):
        for row in rows:
            change(row)
        last = rows[-1].pk


def _pack(row: Any) -> None:
    for name in _FIELDS:
        setattr(row, f"{name}_packed", getattr(row, name))
    row.save(update_fields=[f"{name}_packed" for name in _FIELDS])


def _unpack(row: Any) -> None:
    for name in _FIELDS:
        setattr(row, name, getattr(row, f"{name}_packed"))
    row.save(update_fields=list(_FIELDS))


class Migration(migrations.Migration):
    dependencies = [("rounds", "0011_tires_and_tread")]

    operations = [
        *(migrations.AddField("roundtext", f"{name}_packed", PackedField(null=True)) for name in _FIELDS),
        # Back to before it: what was dropped comes again without a value first.
        migrations.AlterField("roundtext", "sheet", models.JSONField(null=True)),
        migrations.RunPython(lambda apps, _: _over(apps, _pack), lambda apps, _: _over(apps, _unpack)),
        *(migrations.RemoveField("roundtext", name) for name in _FIELDS),
        *(migrations.RenameField("roundtext", f"{name}_packed", name) for name in _FIELDS),
        migrations.AlterField("roundtext", "sheet", PackedField()),
    ]
