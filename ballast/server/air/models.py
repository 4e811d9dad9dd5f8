from django.db import models

from ballast.server.accounts.models import Person
from ballast.server.rigs.models import Rig


class RigAir(models.Model):
    """The air a rig stands in: a place of the weather service, or numbers by hand (then `place_key` is empty)."""

    rig = models.OneToOneField(Rig, on_delete=models.CASCADE, related_name="air")
    place_key = models.CharField(max_length=40, blank=True)
    outside_c = models.FloatField(null=True)
    dawn_c = models.FloatField(null=True)
    high_c = models.FloatField(null=True)
    elevation_m = models.FloatField(null=True)
    # Measured station pressure [kPa absolute], in place of the standard one.
    station_kpa = models.FloatField(null=True)
    # When the numbers by hand were typed or confirmed, and the clock there, minutes east of UTC. They stay while a place is used.
    typed_at = models.DateTimeField(null=True)
    offset_min = models.SmallIntegerField(null=True)
    # A forecast that somebody brought, day by day, and when; its clock is the one above.
    forecast = models.JSONField(default=list)
    forecast_at = models.DateTimeField(null=True)
    # As typed for a round: it gives way to the workspace's place.
    of_round = models.BooleanField(default=False)
    set_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    set_at = models.DateTimeField(auto_now=True)


class RigTrip(models.Model):
    """The trip that a rig is about to make, leg by leg as entered."""

    rig = models.OneToOneField(Rig, on_delete=models.CASCADE, related_name="trip")
    legs = models.JSONField(default=list)
    set_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    set_at = models.DateTimeField(auto_now=True)
