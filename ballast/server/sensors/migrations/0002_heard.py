from typing import Any

import django.db.models.deletion
from django.db import migrations, models


def note_the_newest(apps: Any, schema_editor: Any) -> None:
    rows = apps.get_model("sensors", "Glance").objects.filter(withdrawn_at=None)
    newest = rows.order_by().values_list("rig").annotate(at=models.Max("at"))
    heard = apps.get_model("sensors", "Heard")
    heard.objects.bulk_create(heard(rig_id=rig, at=at) for rig, at in newest)


class Migration(migrations.Migration):

    dependencies = [
        ('rigs', '0007_tires_and_tread'),
        ('sensors', '0001_initial'),
    ]

    operations = [
        migrations.CreateModel(
            name='Heard',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('at', models.DateTimeField()),
                ('rig', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='heard', to='rigs.rig')),
            ],
        ),
        migrations.RunPython(note_the_newest, migrations.RunPython.noop),
    ]
