"""Rows that are taken back stay stored and count for nothing."""

from typing import TypeVar

from django.db import models

Row = TypeVar("Row", bound=models.Model)


class NotWithdrawn(models.Manager[Row]):
    """The rows that were not taken back (`withdrawn_at`)."""

    def get_queryset(self) -> models.QuerySet[Row]:
        return super().get_queryset().filter(withdrawn_at=None)
