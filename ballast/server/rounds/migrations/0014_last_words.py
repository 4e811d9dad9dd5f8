from typing import Any

from django.db import migrations
from django.db.models import Max


def _keep(apps: Any, _: Any) -> None:
    """Of each rig's newest sealed rounds, whole and of some wheels: which tire was read at each wheel, against what target."""
    rounds = apps.get_model("rounds", "Round")
    sealed = rounds.objects.filter(abandoned_at=None).exclude(sealed_at=None)
    newest = sealed.values("parts__rig", "partial").annotate(at=Max("opened_at"))
    for said in newest.iterator():
        row = (
            sealed.filter(parts__rig=said["parts__rig"], partial=said["partial"], opened_at=said["at"])
            .select_related("text")
            .order_by("-id")
            .first()
        )
        read = row.text.stands or row.text.result if row else None
        if not row or not row.last_words or not read:
            continue
        lines = {line["code"]: line for line in row.text.sheet["value"]}
        wheels = {wheel["code"]: wheel for wheel in read["value"]["wheels"]}
        for word in row.last_words["value"]:
            line, wheel = lines.get(word["code"]), wheels.get(word["code"])
            if line and wheel:
                word |= {
                    "own": wheel["own"],
                    "tire": line.get("tire"),
                    "target_kpa": None if wheel.get("spare") else wheel.get("target_kpa"),
                }
        row.save(update_fields=["last_words"])


class Migration(migrations.Migration):
    dependencies = [("rounds", "0013_found_out")]

    operations = [migrations.RunPython(_keep, migrations.RunPython.noop)]
