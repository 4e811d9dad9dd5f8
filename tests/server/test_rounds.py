"""The round: every reading kept once, the answers, the lock, the seal."""

from typing import Any
from uuid import uuid4

import pytest

from ballast.server.rounds.models import Reading, Round
from tests.server.conftest import GAUGE, TICKET, Fleet

WALK = ["1L", "2Lo", "2Li", "2Ro", "2Ri", "1R", "S1"]
# What reads as on target: the front's 620.5, the rear's 689.5, the spare's 690, all some 4 kPa high on this gauge.
GOOD = {"1L": 625, "1R": 625, "2Lo": 694, "2Li": 694, "2Ro": 694, "2Ri": 694, "S1": 694}


def put(fleet: Fleet, round_id: int, uuid: Any, wheel: str, pressure: Any, **more: Any) -> Any:
    path = f"/rounds/{round_id}/readings/{uuid}"
    return fleet.api.call("PUT", path, {"wheel": wheel, "pressure": pressure} | more)


def test_a_round_opens_with_every_wheel_in_walking_order(aimed: Fleet) -> None:
    view = aimed.open_round()
    assert [w["code"] for w in view["wheels"]] == WALK
    assert {w["answer"]["word"] for w in view["wheels"]} == {"not_checked"}
    rear = aimed.wheel(view, "2Ri")
    assert rear["name"] == "Rear right, inner"
    assert rear["here_kpa"] == pytest.approx(689.476, abs=1e-3)
    # The gauge reads 4.45 high between 600 (4) and 800 (5) at 689.5.
    assert rear["shows_kpa"] == pytest.approx(689.476 + 4.447, abs=1e-2)
    spare = aimed.wheel(view, "S1")
    assert (spare["target_kpa"], spare["floor_kpa"], spare["ceiling_kpa"]) == (690, None, 760)


def test_a_reading_is_corrected_compared_and_answered(aimed: Fleet) -> None:
    view = aimed.open_round()
    view = aimed.read(view["id"], "2Ri", "93.4 psi")
    wheel = aimed.wheel(view, "2Ri")
    # 93.4 psi is 643.97; the error there is 4 + 39.97/201 = 4.199: 639.77 true, 49.7 short.
    assert wheel["before"]["typed"] == "93.4 psi"
    assert wheel["before"]["raw_kpa"] == pytest.approx(643.97, abs=0.01)
    assert wheel["before"]["corrected_kpa"] == pytest.approx(639.77, abs=0.02)
    assert wheel["answer"]["word"] == "add"
    assert wheel["answer"]["change_kpa"] == pytest.approx(49.70, abs=0.03)
    assert wheel["before"]["by"] == "Manager"


def test_after_the_air_comes_the_second_reading(aimed: Fleet) -> None:
    round_id = aimed.open_round()["id"]
    early = aimed.api.no(
        "PUT", f"/rounds/{round_id}/readings/{uuid4()}", {"wheel": "1L", "after": True, "pressure": 600}, 409
    )
    assert "before adding air" in early
    aimed.read(round_id, "1L", 600)
    view = aimed.read(round_id, "1L", 625, after=True)
    wheel = aimed.wheel(view, "1L")
    assert wheel["answer"]["word"] == "add"
    assert wheel["after_answer"]["word"] == "hold"
    assert wheel["after"]["raw_kpa"] == 625
    # Reading the wheel anew begins it again.
    wheel = aimed.wheel(aimed.read(round_id, "1L", 626), "1L")
    assert wheel["after"] is None
    assert wheel["retakes"] == 1
    assert Reading.objects.count() == 3


def test_the_same_reading_twice_is_there_once(aimed: Fleet) -> None:
    round_id, uuid = aimed.open_round()["id"], uuid4()
    assert put(aimed, round_id, uuid, "1L", "90.6 psi").status_code == 200
    assert put(aimed, round_id, uuid, "1L", "90.6 psi").status_code == 200
    assert Reading.objects.count() == 1


@pytest.mark.parametrize(
    ("wheel", "pressure", "more"),
    [("1L", "90.7 psi", {}), ("1R", "90.6 psi", {}), ("1L", "90.6 psi", {"not_rolled": True})],
)
def test_the_same_uuid_with_another_value_is_a_conflict(aimed: Fleet, wheel: str, pressure: str, more: Any) -> None:
    round_id, uuid = aimed.open_round()["id"], uuid4()
    put(aimed, round_id, uuid, "1L", "90.6 psi")
    reply = put(aimed, round_id, uuid, wheel, pressure, **more)
    assert reply.status_code == 409
    assert reply.json()["fields"][0]["field"] == "uuid"
    assert Reading.objects.get().typed == "90.6 psi"


@pytest.mark.parametrize(
    ("body", "field", "words"),
    [
        ({"wheel": "9Z", "pressure": 600}, "wheel", "no wheel 9Z"),
        ({"wheel": "1L", "pressure": "soft"}, "pressure", "not a pressure"),
        ({"wheel": "1L", "pressure": -1}, "pressure", "below"),
        ({"wheel": "1L", "pressure": "1500 kPa"}, "pressure", "above"),
        ({"wheel": "1L", "pressure": "1200 kPa"}, "pressure", "outside this gauge's range"),
        ({"wheel": "1L"}, "pressure", "needed"),
        ({"wheel": "1L", "pressure": 600, "after": "perhaps"}, "after", "yes or no"),
    ],
)
def test_readings_that_cannot_be(aimed: Fleet, body: dict[str, Any], field: str, words: str) -> None:
    round_id = aimed.open_round()["id"]
    assert words in aimed.api.no("PUT", f"/rounds/{round_id}/readings/{uuid4()}", body, 422, field)
    assert not Reading.objects.exists()


def test_a_reading_needs_a_uuid(aimed: Fleet) -> None:
    round_id = aimed.open_round()["id"]
    assert "UUID" in aimed.api.no(
        "PUT", f"/rounds/{round_id}/readings/seven", {"wheel": "1L", "pressure": 600}, 422, "uuid"
    )


def test_what_is_being_typed_is_answered_and_not_kept(aimed: Fleet) -> None:
    round_id = aimed.open_round()["id"]
    answer = aimed.api.ok("POST", "work/rounds", {"round": round_id, "wheel": "2Lo", "pressure": "100.6 psi"})
    assert answer["word"] == "hold"
    assert not Reading.objects.exists()


def test_far_below_target_is_locked_on_duals_until_told_otherwise(aimed: Fleet) -> None:
    round_id = aimed.open_round()["id"]
    wheel = aimed.wheel(aimed.read(round_id, "2Li", 500), "2Li")
    assert wheel["answer"]["word"] == "stop"
    assert wheel["locked"] is True
    body = {"wheel": "2Li", "after": True, "pressure": 690}
    assert "no air before an inspection" in aimed.api.no(
        "PUT", f"/rounds/{round_id}/readings/{uuid4()}", body, 409, "after"
    )
    told = aimed.wheel(aimed.read(round_id, "2Li", 500, not_rolled=True), "2Li")
    assert told["answer"]["word"] == "add"
    assert told["locked"] is False
    assert aimed.wheel(aimed.read(round_id, "2Li", 694, after=True), "2Li")["after_answer"]["word"] == "hold"


def test_a_spare_far_below_is_add_not_stop(aimed: Fleet) -> None:
    view = aimed.read(aimed.open_round()["id"], "S1", 300)
    assert aimed.wheel(view, "S1")["answer"]["word"] == "add"


def test_mates_that_disagree_are_a_finding(aimed: Fleet) -> None:
    round_id = aimed.open_round()["id"]
    aimed.read(round_id, "2Ro", 694)
    assert aimed.read(round_id, "2Ri", 680)["findings"] == []
    view = aimed.read(round_id, "2Ri", 650)
    assert view["findings"] == ["Rear right, outer and rear right, inner differ by 5 psi or 7 %: mates must agree."]


def test_warm_tires_are_estimates_and_spares_are_not(aimed: Fleet) -> None:
    view = aimed.open_round(standing_h=1)
    assert (view["cold"], view["wait_h"]) == (False, 4)
    round_id = view["id"]
    aimed.read(round_id, "1L", 660)
    view = aimed.read(round_id, "S1", 694)
    assert aimed.wheel(view, "1L")["answer"]["estimate"] is True
    assert aimed.wheel(view, "S1")["answer"]["estimate"] is False


def test_what_speaks_against_the_gauge_stands_beside_the_target(aimed: Fleet) -> None:
    coarse = aimed.api.ok("POST", "/gauges", GAUGE | {"label": "Short", "high_kpa": "720 kPa"})["id"]
    view = aimed.open_round(gauge=coarse)
    assert [n["text"] for n in aimed.wheel(view, "2Lo")["target_notes"]] == ["{0} is in the last tenth of its range."]
    assert aimed.wheel(view, "1L")["target_notes"] == []


def test_changed_conditions_answer_again_and_readings_keep_their_gauge(aimed: Fleet) -> None:
    round_id = aimed.open_round()["id"]
    aimed.read(round_id, "1L", 625)
    other = aimed.api.ok("POST", "/gauges", GAUGE | {"label": "G2"})["id"]
    view = aimed.api.ok("PUT", f"/rounds/{round_id}", aimed.conditions(gauge=other, outside_c=25, morning_c=5))
    wheel = aimed.wheel(view, "1L")
    assert wheel["before"]["gauge"] == "G1"
    assert wheel["before"]["corrected_kpa"] == pytest.approx(620.9, abs=0.1)
    # Set at 5 °C this morning, 620.5 reads 672.1 at 25 °C: 620.9 is short by 51.
    assert wheel["here_kpa"] == pytest.approx(672.1, abs=0.1)
    assert wheel["answer"]["word"] == "add"
    assert view["gauge_label"] == "G2"
    assert "Never compared" in view["gauge_condition"]["text"]


def test_one_round_is_open_at_a_time_and_may_be_abandoned(aimed: Fleet) -> None:
    round_id = aimed.open_round()["id"]
    told = aimed.api.no("POST", f"/rigs/{aimed.rig}/rounds", aimed.conditions(), 409, "rig")
    assert "by Manager is open" in told
    assert aimed.api.ok("GET", f"/yard/{aimed.rig}")["open_round"] == round_id
    aimed.read(round_id, "1L", 625)
    aimed.api.ok("DELETE", f"/rounds/{round_id}")
    assert aimed.api.call("GET", f"/rounds/{round_id}").status_code == 404
    assert aimed.api.ok("GET", f"/yard/{aimed.rig}")["open_round"] is None
    assert Reading.objects.count() == 1
    aimed.open_round()


def read_all(fleet: Fleet, round_id: int) -> Any:
    for code, kpa in GOOD.items():
        view = fleet.read(round_id, code, kpa)
    return view


def test_sealing_keeps_what_stood_and_twice_is_as_once(aimed: Fleet) -> None:
    round_id = aimed.open_round()["id"]
    read_all(aimed, round_id)
    sealed = aimed.api.ok("POST", f"/rounds/{round_id}/seal", {})
    assert sealed["summary"] == "all hold"
    assert sealed["sealed_by"] == "Manager"
    assert aimed.api.ok("POST", f"/rounds/{round_id}/seal", {"unread_reason": "other"}) == sealed
    # What changes later does not reach into it.
    aimed.api.ok("PUT", f"/gauges/{aimed.gauge}", GAUGE | {"label": "Renamed"})
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/weighings", TICKET | {"weighed_on": "2026-10-02"})
    assert aimed.api.ok("GET", f"/rounds/{round_id}") == sealed
    for method, path, body in (
        ("PUT", f"/rounds/{round_id}/readings/{uuid4()}", {"wheel": "1L", "pressure": 600}),
        ("PUT", f"/rounds/{round_id}", aimed.conditions()),
        ("DELETE", f"/rounds/{round_id}", None),
    ):
        assert "sealed" in aimed.api.no(method, path, body, 409)


def test_a_stored_reading_sent_again_after_sealing_is_simply_there(aimed: Fleet) -> None:
    round_id, uuid = aimed.open_round()["id"], uuid4()
    put(aimed, round_id, uuid, "1L", 625)
    aimed.api.ok("POST", f"/rounds/{round_id}/seal", {"unread_reason": "dark"})
    assert put(aimed, round_id, uuid, "1L", 625).status_code == 200


def test_wheels_not_read_need_a_reason(aimed: Fleet) -> None:
    round_id = aimed.open_round()["id"]
    assert "Nothing is read" in aimed.api.no(
        "POST", f"/rounds/{round_id}/seal", {"unread_reason": "dark"}, 409, "unread_reason"
    )
    for code in WALK[:-1]:
        aimed.read(round_id, code, GOOD[code])
    told = aimed.api.no("POST", f"/rounds/{round_id}/seal", {}, 409, "unread_reason")
    assert told == "Not read: Spare. Read them, or give the reason."
    sealed = aimed.api.ok("POST", f"/rounds/{round_id}/seal", {"unread_reason": "Spare at the shop"})
    assert sealed["summary"] == "not checked: 1"
    assert sealed["unread_reason"] == "Spare at the shop"


def test_a_round_without_targets_keeps_readings_and_answers_nothing(fleet: Fleet) -> None:
    round_id = fleet.open_round()["id"]
    view = fleet.read(round_id, "1L", 625)
    assert fleet.wheel(view, "1L")["answer"]["word"] == "cannot_tell"
    assert Round.objects.get().parts.get().target_set is None


def test_the_number_of_queries_does_not_grow_with_the_readings(
    aimed: Fleet, django_assert_max_num_queries: Any
) -> None:
    round_id = aimed.open_round()["id"]
    read_all(aimed, round_id)
    with django_assert_max_num_queries(18):
        aimed.api.ok("GET", f"/rounds/{round_id}")
    read_all(aimed, round_id)
    read_all(aimed, round_id)
    with django_assert_max_num_queries(18):
        aimed.api.ok("GET", f"/rounds/{round_id}")
