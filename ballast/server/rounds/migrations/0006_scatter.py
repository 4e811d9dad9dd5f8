import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("rounds", "0005_summary"), ("accounts", "0002_ways")]

    operations = [
        migrations.AddField("service", "estimate_kpa", models.FloatField(null=True)),
        migrations.AddField("service", "noise_kpa", models.FloatField(null=True)),
        migrations.AddField("round", "shop_c", models.FloatField(null=True)),
        migrations.AddField("round", "air_source", models.CharField(blank=True, max_length=8, default=""), preserve_default=False),
        migrations.AddField(
            "round", "without_target", models.CharField(blank=True, max_length=500, default=""), preserve_default=False
        ),
        migrations.CreateModel(
            name="Scatter",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("hand_kpa", models.FloatField()),
                ("thermometer", models.FloatField()),
                ("rounds", models.PositiveIntegerField()),
                (
                    "workspace",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE, related_name="scatter", to="accounts.workspace"
                    ),
                ),
            ],
        ),
    ]
