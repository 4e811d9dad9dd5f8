from django.db import migrations, models
from django.db.models import F


def typed(apps, schema_editor):
    """Numbers by hand were typed when they were last set."""
    apps.get_model("air", "RigAir").objects.exclude(outside_c=None).update(typed_at=F("set_at"))


class Migration(migrations.Migration):
    dependencies = [("air", "0002_trips")]

    operations = [
        migrations.AddField("rigair", "typed_at", models.DateTimeField(null=True)),
        migrations.AddField("rigair", "offset_min", models.SmallIntegerField(null=True)),
        migrations.RunPython(typed, migrations.RunPython.noop),
    ]
