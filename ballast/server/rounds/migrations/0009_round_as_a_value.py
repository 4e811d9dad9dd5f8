"""The text of a round goes into a row of its own, and what stood in lists by position gets names and a version.

The way back is kept: what was sealed must mean the same before and after.
"""

import django.db.models.deletion
from django.db import migrations, models

VERSION = 2
SAMPLE_STAMP = "Sample table: made up, not for the road"


def _value(of):
    return {"version": VERSION, "value": of}


def line_to(old):
    last = old.get("last")
    if last is not None:
        last = {
            "kpa": last["kpa"], "noise_kpa": last.get("noise_kpa"),
            "air": {"temperature_c": last["air_c"], "elevation_m": last["elevation_m"], "station_kpa": last["absolute_kpa"]},
            "at": last["at"], "rate_kpa_day": last["rate"], "rate_error": last["error"], "gauge": last.get("gauge", 0),
            "gauge_kpa": last.get("gauge_kpa", 0.0),
        }
    return {
        "code": old["code"], "name": old["name"], "own": old["own"], "rig": old["rig"], "axle": old["axle"],
        "side": old.get("side", 0), "dual": old.get("dual", False), "inner": old.get("inner", False),
        "heavy_or_dual": old["heavy_or_dual"], "tire": old.get("tire"), "step_kpa": old["step"],
        "aim": {
            "target_kpa": old["target"], "floor_kpa": old["floor"], "ceiling_kpa": old["ceiling"],
            "floor_from": old.get("floor_from", "load"), "stop_kpa": old.get("stop"), "missing": old.get("missing"),
        },
        "last": last,
    }


def line_back(new):
    last, aim = new["last"], new["aim"]
    if last is not None:
        last = {
            "kpa": last["kpa"], "noise_kpa": last["noise_kpa"], "air_c": last["air"]["temperature_c"],
            "elevation_m": last["air"]["elevation_m"], "absolute_kpa": last["air"]["station_kpa"], "at": last["at"],
            "rate": last["rate_kpa_day"], "error": last["rate_error"], "gauge": last["gauge"], "gauge_kpa": last["gauge_kpa"],
        }
    old = {n: new[n] for n in ("code", "name", "own", "rig", "axle", "side", "dual", "inner", "heavy_or_dual", "tire")}
    old |= {
        "spare": new["axle"] is None, "step": new["step_kpa"], "target": aim["target_kpa"], "floor": aim["floor_kpa"],
        "ceiling": aim["ceiling_kpa"], "floor_from": aim["floor_from"], "last": last,
    }
    if aim["missing"] is not None:
        old["missing"] = aim["missing"]
    if aim["stop_kpa"] is not None:
        old["stop"] = aim["stop_kpa"]
    return old


def round_to(old, readings):
    """A sealed round: what it did not keep has its default, but for what its own rows still know."""
    if old is None:
        return None
    new = dict(old)
    if "stamps" not in new:
        new["stamps"] = [SAMPLE_STAMP] if new.pop("samples", False) else []
    for wheel in new["wheels"]:
        for which, after in (("before", False), ("after", True)):
            reading = wheel.get(which)
            if reading is not None:
                reading |= {"wheel": wheel["code"], "after": after, "gauge_id": readings.get(reading.get("uuid"), 0)}
    return _value(new)


def words_to(old):
    """[wheel, word, rig, what is open, [the vehicle's own wheel, tire, kPa a day] of a named leak], by name."""
    if old is None:
        return None
    found = []
    for entry in old:
        leak = entry[4] if len(entry) > 4 else None
        found.append(
            {
                "code": entry[0], "word": entry[1], "rig": entry[2], "open": entry[3] if len(entry) > 3 else "",
                "leak": {"wheel": leak[0], "tire": leak[1], "kpa_day": leak[2]} if leak else None,
            }
        )
    return _value(found)


def words_back(new):
    if new is None:
        return None
    return [
        [w["code"], w["word"], w["rig"], w["open"], [w["leak"]["wheel"], w["leak"]["tire"], w["leak"]["kpa_day"]] if w["leak"] else None]
        for w in new["value"]
    ]


def split_to(old):
    if old is None:
        return None
    return _value({"like": None, "sides_kpa": None, "shared": None, "odd": False, "words": [], "parts": []} | old)


def forward(apps, schema_editor):
    Round, RoundText, Reading, Amendment = (
        apps.get_model("rounds", n) for n in ("Round", "RoundText", "Reading", "Amendment")
    )
    for row in Round.objects.all().iterator(chunk_size=50):
        readings = {str(u): g for u, g in Reading.objects.filter(round=row).values_list("uuid", "gauge")}
        readings |= {str(u): g for u, g in Amendment.objects.filter(round=row).exclude(gauge=None).values_list("uuid", "gauge")}
        split = row.split or {}
        RoundText.objects.create(
            round=row, sheet=_value([line_to(line) for line in row.sheet]), result=round_to(row.result, readings),
            stands=round_to(row.stands, readings), split=split_to(row.split),
        )
        row.last_words = words_to(row.words)
        row.split_words, row.odd = split.get("words") or [], bool(split.get("odd"))
        row.dawns = [{"c": c, "days": days} for c, days in row.dawns]
        row.save(update_fields=["last_words", "split_words", "odd", "dawns"])
    for row in Amendment.objects.filter(gauge=None, wheel=""):
        row.says = {name: {"was": was, "now": now} for name, (was, now) in (row.says or {}).items()}
        row.save(update_fields=["says"])


def backward(apps, schema_editor):
    Round, RoundText, Amendment = (apps.get_model("rounds", n) for n in ("Round", "RoundText", "Amendment"))
    for text in RoundText.objects.select_related("round").iterator(chunk_size=50):
        row = text.round
        row.sheet = [line_back(line) for line in text.sheet["value"]]
        row.result = text.result and text.result["value"]
        row.stands = text.stands and text.stands["value"]
        row.split = text.split and text.split["value"]
        row.words = words_back(row.last_words)
        row.dawns = [[d["c"], d["days"]] for d in row.dawns]
        row.save(update_fields=["sheet", "result", "stands", "split", "words", "dawns"])
    for row in Amendment.objects.filter(gauge=None, wheel=""):
        row.says = {name: [told["was"], told["now"]] for name, told in (row.says or {}).items()}
        row.save(update_fields=["says"])


class Migration(migrations.Migration):
    dependencies = [("rounds", "0008_taken_back")]

    operations = [
        migrations.CreateModel(
            name="RoundText",
            fields=[
                ("round", models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, primary_key=True, related_name="text", serialize=False, to="rounds.round")),
                ("sheet", models.JSONField()),
                ("result", models.JSONField(null=True)),
                ("stands", models.JSONField(null=True)),
                ("split", models.JSONField(null=True)),
            ],
        ),
        migrations.AddField("round", "last_words", models.JSONField(null=True)),
        migrations.AddField("round", "split_words", models.JSONField(default=list)),
        migrations.AddField("round", "odd", models.BooleanField(default=False)),
        # On the way back the column is filled by what follows it here.
        migrations.AlterField("round", "sheet", models.JSONField(null=True)),
        migrations.RunPython(forward, backward),
        migrations.RemoveField("round", "sheet"),
        migrations.RemoveField("round", "result"),
        migrations.RemoveField("round", "stands"),
        migrations.RemoveField("round", "split"),
        migrations.RemoveField("round", "words"),
    ]
