from django.db import migrations

_PAIR = ("reference_kpa", "reading_kpa", "reference_typed", "reading_typed", "direction")
_POINT = ("pressure_kpa", "flow_l_min")


def _each(apps, model, field, form):
    for row in apps.get_model("gauges", model).objects.all():
        setattr(row, field, [form(one) for one in getattr(row, field)])
        row.save(update_fields=[field])


def name(apps, schema_editor):
    # The first comparisons did not ask which way it went.
    _each(apps, "Calibration", "pairs", lambda p: dict(zip(_PAIR, [*p, ""][:5], strict=True)))
    for model in ("Inflator", "HistoricalInflator"):
        _each(apps, model, "points", lambda p: dict(zip(_POINT, p, strict=True)))


def by_position(apps, schema_editor):
    _each(apps, "Calibration", "pairs", lambda p: [p[n] for n in _PAIR])
    for model in ("Inflator", "HistoricalInflator"):
        _each(apps, model, "points", lambda p: [p[n] for n in _POINT])


class Migration(migrations.Migration):
    dependencies = [("gauges", "0003_master")]

    operations = [migrations.RunPython(name, by_position)]
