from django.db import migrations, models
from django.db.models import OuterRef, Subquery


def of_their_plans(apps, _):
    """Entries were kept in the air in which their plan was opened."""
    plan = apps.get_model("ground", "GroundPlan").objects.filter(pk=OuterRef("plan"))
    read = apps.get_model("ground", "GroundEntry").objects.exclude(kpa=None)
    read.update(air_c=Subquery(plan.values("set_in_c")))


class Migration(migrations.Migration):
    dependencies = [("ground", "0001_initial")]

    operations = [
        migrations.AddField("groundentry", "air_c", models.FloatField(null=True)),
        migrations.RunPython(of_their_plans, migrations.RunPython.noop),
        migrations.RemoveField("groundplan", "driven"),
        migrations.RemoveField("groundplan", "outside_c"),
        migrations.RemoveField("groundplan", "set_in_c"),
        migrations.RemoveField("groundplan", "standing_h"),
    ]
