from django.db import migrations, models


def to_axles(apps, schema_editor):
    """A trial was a rig's; it belongs to the axles that went below their placard by it."""
    TargetAxle = apps.get_model("targets", "TargetAxle")
    for axle in TargetAxle.objects.exclude(target_set__trial="").select_related("target_set").iterator():
        if axle.answer.get("trial"):
            axle.trial = axle.target_set.trial
            axle.save(update_fields=["trial"])


class Migration(migrations.Migration):
    dependencies = [("targets", "0003_tables")]

    operations = [
        migrations.AddField("targetaxle", "trial", models.CharField(blank=True, max_length=300, default=""), preserve_default=False),
        migrations.AddField("targetaxle", "floor_from", models.CharField(default="load", max_length=12)),
        migrations.RunPython(to_axles, migrations.RunPython.noop),
        migrations.RemoveField("targetset", "trial"),
    ]
