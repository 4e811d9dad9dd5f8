from django.db import migrations, models


def told(apps, schema_editor):
    """What earlier comparisons were made with: a gauge of the drawer by its label, or a certificate."""
    Calibration = apps.get_model("gauges", "Calibration")
    Gauge = apps.get_model("gauges", "Gauge")
    labels = {(w, label.lower()) for w, label in Gauge.objects.values_list("workspace_id", "label")}
    for row in Calibration.objects.select_related("gauge").iterator():
        if (row.gauge.workspace_id, row.reference.strip().lower()) in labels and row.reference.strip() != row.gauge.label:
            row.master = "drawer"
        elif row.certificate:
            row.master = "certificate"
        else:
            continue
        row.save(update_fields=["master"])


class Migration(migrations.Migration):
    dependencies = [("gauges", "0002_sessions")]

    operations = [
        migrations.AddField("calibration", "master", models.CharField(blank=True, max_length=12, default=""), preserve_default=False),
        migrations.RunPython(told, migrations.RunPython.noop),
    ]
