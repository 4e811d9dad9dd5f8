"""What stands of a rig's numbers whatever comes later: when the newest is of, and every alarm as it was told."""

from collections.abc import Iterable

from django.db.models import Max

from ballast.core import sensors as core
from ballast.server.sensors.models import AlarmTold, Drive, Glance, Heard


def tell(rig_id: int, told: Iterable[core.Told]) -> None:
    """Puts alarms on record; one that stands there already stays as it is."""
    AlarmTold.objects.bulk_create(
        (AlarmTold(rig_id=rig_id, wheel=t.wheel, what=t.what, sets=t.set, at=t.at, by=t.by) for t in told),
        ignore_conflicts=True,
    )


def note_newest(rig_id: int) -> None:
    """Notes when a rig's newest number is of, whatever came last: numbers of long ago are not the newest."""
    looked = Glance.objects.filter(rig=rig_id, withdrawn_at=None).aggregate(at=Max("at"))["at"]
    driven = Drive.objects.filter(rig=rig_id, simulated__isnull=True, count__gt=0).aggregate(at=Max("heard_at"))["at"]
    newest = max((at for at in (looked, driven) if at), default=None)
    if newest is None:
        Heard.objects.filter(rig=rig_id).delete()
    else:
        Heard.objects.update_or_create(rig_id=rig_id, defaults={"at": newest})
