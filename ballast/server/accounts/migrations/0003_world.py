from django.db import migrations, models


def tell(apps, schema_editor):
    """A world that people are in already is the demo's where none of them has a password: those have one click."""
    people = list(apps.get_model("accounts", "Person").objects.values_list("password", flat=True))
    if people:
        demo = all(p.startswith("!") for p in people)
        apps.get_model("accounts", "World").objects.create(pk=1, mode="demo" if demo else "production")


class Migration(migrations.Migration):
    dependencies = [("accounts", "0002_ways")]

    operations = [
        migrations.CreateModel(
            name="World",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("mode", models.CharField(max_length=10)),
            ],
        ),
        migrations.RunPython(tell, migrations.RunPython.noop),
    ]
