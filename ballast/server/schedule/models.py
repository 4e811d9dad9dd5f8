from django.db import models

from ballast.server.accounts.models import Ends, Owned, Person
from ballast.server.rigs.models import Rig


class Feed(Owned, Ends):
    """A secret address from which a calendar fetches what is due: of one rig, of what is given to its person, or of all."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="feeds")
    rig = models.ForeignKey(Rig, null=True, on_delete=models.CASCADE, related_name="feeds")
    # Just the rounds that its person has to do.
    own = models.BooleanField(default=False)
    key_hash = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField()
    fetched_on = models.DateField(null=True)

    class Meta:
        ordering = ["-id"]


class Notice(Owned):
    """A line by mail at dawn; there is a row only while somebody wants it."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="notices")
    email = models.EmailField()
    sent_on = models.DateField(null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["person", "workspace"], name="one_notice_a_workspace")]
