"""Statements put together once give what Django's own give."""

import datetime as dt
from concurrent.futures import ThreadPoolExecutor
from typing import Any
from uuid import uuid4

import pytest
from django.db import IntegrityError, connection, transaction
from django.db.models import F
from django.test.utils import CaptureQueriesContext

from ballast.server.edge.ready import Keeping, Ready, hang
from ballast.server.rigs.models import Axle, Rig
from ballast.server.rounds.models import Reading
from tests.server.conftest import COACH, Fleet


@pytest.fixture
def rigs(fleet: Fleet) -> list[int]:
    for number in range(4):
        fleet.api.ok("POST", "/rigs", COACH | {"name": f"More {number}", "fleet_number": f"M-{number}"})
    return list(Rig.objects.order_by("id").values_list("pk", flat=True))


def test_any_length_gives_what_the_queryset_gives(rigs: list[int]) -> None:
    def ask(keys: Any) -> Any:
        return Axle.objects.filter(rig__in=keys, number__lt=3).select_related("rig").annotate(behind=F("rig__head"))

    ready = Ready[Axle](ask)
    for length in (1, 2, 3, 5, 3, 1):
        own = ready(rigs[-length:])
        assert [a.__dict__ for a in own if a.__dict__.pop("_state")] == [
            a.__dict__ for a in ask(rigs[-length:]) if a.__dict__.pop("_state")
        ]
        assert len(own) == 2 * length
        with CaptureQueriesContext(connection) as asked:
            assert {a.rig.pk for a in ready(rigs[:length])} == set(rigs[:length])
        assert len(asked) == 1
    assert ready([]) == []


def test_words_numbers_and_what_never_changes_keep_their_places(rigs: list[int]) -> None:
    home = Rig.objects.get(pk=rigs[0]).workspace_id
    ready = Ready[tuple[int]](
        lambda names, workspace: (
            Rig.objects.of(workspace)
            .filter(archived=False, name__in=names, kind=COACH["kind"])
            .values_list("pk", flat=False)
        )
    )
    assert ready(["More 1", "More 3", "' OR 1=1 --"], home) == [(rigs[2],), (rigs[4],)]
    assert ready(["More 1", "More 3"], home + 1) == []
    assert ready.first(["More 2"], home) == (rigs[3],)
    assert ready.first(["None such"], home) is None


def test_what_hangs_is_at_hand_and_no_other_question(rigs: list[int]) -> None:
    rows = list(Rig.objects.order_by("id"))
    hang(rows, "axles", Axle.objects.filter(rig__in=rigs[:-1]), "rig")
    with CaptureQueriesContext(connection) as asked:
        assert [a.rig_id for a in rows[1].axles.all()] == [rigs[1]] * 2
        assert rows[1].axles.all()[0].rig is rows[1]
        assert list(rows[-1].axles.all()) == []
    assert len(asked) == 0
    with pytest.raises(TypeError, match="at hand already"):
        rows[1].axles.filter(number=1)


@pytest.mark.django_db(transaction=True)
def test_threads_share_a_statement_and_each_its_own_connection(rigs: list[int]) -> None:
    ready = Ready[Axle](lambda keys: Axle.objects.filter(rig__in=keys))

    def read(rig: int) -> set[int]:
        try:
            return {a.rig_id for a in ready([rig])}
        finally:
            connection.close()

    with ThreadPoolExecutor(4) as pool:
        assert list(pool.map(read, rigs * 5)) == [{r} for r in rigs] * 5


def test_moments_and_uuids_are_keys_as_the_engine_has_them(aimed: Fleet) -> None:
    round_id = aimed.open_round()["id"]
    aimed.read(round_id, "1L", "80 psi")
    kept = Reading.objects.get(round=round_id)
    by_uuid = Ready[Reading](lambda uuid: Reading.objects.filter(uuid=uuid))
    since = Ready[int](
        lambda moment, pk: Reading.objects.filter(received_at__gte=moment, round=pk).values_list("pk", flat=True)
    )
    assert [r.typed for r in by_uuid(kept.uuid)] == ["80 psi"]
    assert by_uuid(uuid4()) == []
    assert since(kept.received_at, round_id) == [kept.pk]
    assert since(kept.received_at + dt.timedelta(microseconds=1), round_id) == []


def test_a_row_is_stored_as_its_save_would(aimed: Fleet) -> None:
    round_id = aimed.open_round()["id"]
    aimed.read(round_id, "1L", "80 psi")
    saved = Reading.objects.get(round=round_id)
    told = {f.attname: getattr(saved, f.attname) for f in Reading._meta.concrete_fields if not f.primary_key}
    keep = Keeping(Reading)
    for _ in range(2):
        with CaptureQueriesContext(connection) as asked:
            kept = keep(Reading(**told | {"uuid": uuid4(), "saw": saved.uuid}))
        assert len(asked) == 1
        again = Reading.objects.get(pk=kept.pk)
        assert {name: getattr(again, name) for name in told} == told | {"uuid": kept.uuid, "saw": saved.uuid}
        kept.typed = "81 psi"
        kept.save()
        assert Reading.objects.get(pk=kept.pk).typed == "81 psi"
    with pytest.raises(IntegrityError), transaction.atomic():
        keep(Reading(**told))
    assert Reading.objects.filter(round=round_id).count() == 3
