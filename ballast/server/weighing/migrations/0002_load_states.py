import django.db.models.deletion
from django.db import migrations, models


def states_from_names(apps, schema_editor):
    """Every name that a rig was weighed under becomes a load state; that of its newest weighing is in force."""
    LoadState = apps.get_model("weighing", "LoadState")
    Weighing = apps.get_model("weighing", "Weighing")
    made = {}
    for row in Weighing.objects.order_by("-weighed_on", "-id"):
        key = (row.rig_id, row.state_name.lower())
        if key not in made:
            first = not any(rig == row.rig_id for rig, _ in made)
            made[key] = LoadState.objects.create(rig_id=row.rig_id, name=row.state_name, in_force=first)
        row.load_state = made[key]
        row.save(update_fields=["load_state"])


def names_from_states(apps, schema_editor):
    for row in apps.get_model("weighing", "Weighing").objects.select_related("load_state"):
        row.state_name = row.load_state.name
        row.save(update_fields=["state_name"])


class Migration(migrations.Migration):
    dependencies = [("rigs", "0002_fleet"), ("weighing", "0001_initial")]

    operations = [
        migrations.CreateModel(
            name="LoadState",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=40)),
                ("in_force", models.BooleanField(default=False)),
                (
                    "rig",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="load_states", to="rigs.rig"
                    ),
                ),
            ],
            options={
                "ordering": ["id"],
                "constraints": [
                    models.UniqueConstraint(fields=("rig", "name"), name="load_state_once"),
                    models.UniqueConstraint(
                        condition=models.Q(("in_force", True)), fields=("rig",), name="one_load_state_in_force"
                    ),
                ],
            },
        ),
        migrations.RenameField("weighing", "load_state", "state_name"),
        migrations.AlterField("weighing", "state_name", models.CharField(max_length=40, default="")),
        migrations.AddField(
            "weighing",
            "load_state",
            models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.PROTECT,
                related_name="weighings",
                to="weighing.loadstate",
            ),
        ),
        migrations.RunPython(states_from_names, names_from_states),
    ]
