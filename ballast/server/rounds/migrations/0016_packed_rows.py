from collections.abc import Sequence
from typing import Any

import django.db.models.deletion
from django.db import migrations, models

from ballast.server.edge.packed import PackedField

_FIELDS = ("dawns", "last_words", "split_words")
_PACKED = [f"{name}_packed" for name in _FIELDS]
_SLICE = 500


def _over(apps: Any, since: Sequence[str], to: Sequence[str]) -> None:
    """A slice of rounds at a time: never the words of all in memory."""
    rounds = apps.get_model("rounds", "Round").objects.order_by("pk")
    last = 0
    while rows := list(rounds.filter(pk__gt=last).only(*since)[:_SLICE]):
        for row in rows:
            for old, new in zip(since, to, strict=True):
                setattr(row, new, getattr(row, old))
        rounds.bulk_update(rows, list(to))
        last = rows[-1].pk


def _covered(model: str, **more: Any) -> models.ForeignKey:
    """A key that is found by an index which begins with it."""
    how: dict[str, Any] = {"on_delete": django.db.models.deletion.CASCADE} | more
    return models.ForeignKey(to=model, related_name="services", db_index=False, **how)


class Migration(migrations.Migration):
    dependencies = [("rounds", "0015_changes_of_gauge"), ("rigs", "0001_initial")]

    operations = [
        migrations.AddField("round", "dawns_packed", PackedField(default=list)),
        migrations.AddField("round", "last_words_packed", PackedField(null=True)),
        migrations.AddField("round", "split_words_packed", PackedField(default=list)),
        migrations.RunPython(
            lambda apps, _: _over(apps, _FIELDS, _PACKED), lambda apps, _: _over(apps, _PACKED, _FIELDS)
        ),
        *(migrations.RemoveField("round", name) for name in _FIELDS),
        *(migrations.RenameField("round", f"{name}_packed", name) for name in _FIELDS),
        migrations.AlterField("service", "round", _covered("rounds.round")),
        migrations.AlterField("service", "rig", _covered("rigs.rig")),
        migrations.AlterField(
            "service", "tire", _covered("rigs.tire", null=True, on_delete=django.db.models.deletion.SET_NULL)
        ),
    ]
