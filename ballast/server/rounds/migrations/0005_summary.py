from django.db import migrations, models


def take_out(apps, schema_editor):
    """Rounds that were sealed before get their summary out of their results."""
    Round = apps.get_model("rounds", "Round")
    for row in Round.objects.filter(result__isnull=False).only("result").iterator(50):
        Round.objects.filter(pk=row.pk).update(summary=row.result.get("summary", "")[:200])


class Migration(migrations.Migration):

    dependencies = [
        ('rounds', '0004_calibrated'),
    ]

    operations = [
        migrations.AddField(
            model_name='round',
            name='summary',
            field=models.CharField(blank=True, max_length=200),
        ),
        migrations.RunPython(take_out, migrations.RunPython.noop),
    ]
