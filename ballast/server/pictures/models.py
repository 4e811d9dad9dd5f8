from django.conf import settings
from django.db import models

from ballast.server.accounts.models import Owned
from ballast.server.rigs.models import Rig
from ballast.server.rounds.models import Round
from ballast.server.weighing.models import Weighing


class Picture(Owned):
    """What was photographed of a rig: of a place of it, of a ticket, of a wheel in a round. Its file is named by its content."""

    uuid = models.UUIDField(primary_key=True)
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="pictures")
    what = models.CharField(max_length=10)
    # "label", "axles.0", "spare"; of a wheel its code.
    place = models.CharField(max_length=12, blank=True)
    wheel = models.CharField(max_length=8, blank=True)
    weighing = models.ForeignKey(Weighing, null=True, on_delete=models.CASCADE, related_name="pictures")
    round = models.ForeignKey(Round, null=True, on_delete=models.CASCADE, related_name="pictures")
    content = models.CharField(max_length=64)
    size = models.PositiveIntegerField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    taken_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    taken_at = models.DateTimeField(auto_now_add=True)
    # Taken off; it can be put back for a while.
    removed_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["taken_at"]
        indexes = [models.Index(fields=["workspace", "content"])]
