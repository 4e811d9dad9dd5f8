"""Out of service, and back by a named person's sign-off."""

from collections.abc import Callable

from django.test import Client

from ballast.server.accounts.models import Membership, Person
from ballast.server.rigs.models import SignOff
from tests.server.conftest import NOW, Api, Fleet

As = Callable[[str], Api]
BACK = {"done": "Hub replaced, torqued", "signed": "manager"}


def member(api: Api, username: str) -> int:
    return next(int(p["id"]) for p in api.ok("GET", "/people") if p["username"] == username)


def test_it_is_said_before_everything_else_until_it_is_signed_off(aimed: Fleet, api_as: As) -> None:
    technician = api_as("technician")
    technician.ok("PUT", f"/rigs/{aimed.rig}/out-of-service", {"why": "Cracked hub {front}"})
    line = aimed.api.ok("GET", "/yard")["rigs"][0]
    assert (line["state"], line["words"]["text"]) == (
        "attention",
        "Out of service since Nov 25, 2026: Cracked hub (front)",
    )
    assert line["more"][0]["text"] == "Round due, never done"
    assert [r["id"] for r in aimed.api.ok("GET", "/yard?lines=out")["rigs"]] == [aimed.rig]
    out = technician.ok("GET", f"/yard/{aimed.rig}")["out"]
    assert (out["by"], out["sign_off"], out["may_sign_off"]) == ("Technician", "", False)
    # Any manager, for nobody was named.
    told = technician.no("POST", f"/rigs/{aimed.rig}/sign-off", BACK, 403)
    assert "a manager of Ours, and nobody else" in told
    assert aimed.api.ok("GET", f"/yard/{aimed.rig}")["out"]["may_sign_off"] is True
    assert aimed.api.no("POST", f"/rigs/{aimed.rig}/sign-off", BACK | {"signed": "Somebody"}, 422, "signed")
    assert aimed.api.no("POST", f"/rigs/{aimed.rig}/sign-off", BACK | {"done": " "}, 422, "done")
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/sign-off", BACK)
    assert aimed.api.ok("GET", f"/yard/{aimed.rig}")["out"] is None
    assert aimed.api.ok("GET", "/yard")["rigs"][0]["words"]["text"] == "Round due, never done"
    (back,) = aimed.api.ok("GET", f"/rigs/{aimed.rig}/sign-offs")
    assert (back["why"], back["out_by"], back["by"], back["done"]) == (
        "Cracked hub {front}", "Technician", "Manager", "Hub replaced, torqued",
    )  # fmt: skip
    assert aimed.api.call("POST", f"/rigs/{aimed.rig}/sign-off", BACK).status_code == 409


def test_who_was_named_signs_and_nobody_else(aimed: Fleet, api_as: As, people: dict[str, Person]) -> None:
    named = {"why": "Nail", "sign_off": member(aimed.api, "technician")}
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/out-of-service", named)
    assert "signed off by Technician" in aimed.api.no("POST", f"/rigs/{aimed.rig}/sign-off", BACK, 403)
    # Nor is it changed by another.
    assert aimed.api.call("PUT", f"/rigs/{aimed.rig}/out-of-service", {"why": "Other"}).status_code == 409
    technician = api_as("technician")
    key = technician.ok("POST", "/keys", {"name": "Script", "role": "technician"})["key"]
    script = Api(Client(headers={"Authorization": f"Bearer {key}"}))
    assert "in person" in script.no("POST", f"/rigs/{aimed.rig}/sign-off", BACK, 403)
    Membership.objects.filter(person=people["technician"]).update(off_at=NOW)
    # Who was named is not here any more: a manager signs.
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/sign-off", BACK)
    assert SignOff.objects.get().by == people["manager"]


def test_a_rig_is_not_shut_in_by_a_name_that_may_no_longer_sign(aimed: Fleet, people: dict[str, Person]) -> None:
    named = {"why": "Nail", "sign_off": member(aimed.api, "technician")}
    aimed.api.ok("PUT", f"/rigs/{aimed.rig}/out-of-service", named)
    Membership.objects.filter(person=people["technician"]).update(role="viewer")
    aimed.api.ok("POST", f"/rigs/{aimed.rig}/sign-off", BACK)
    assert aimed.api.ok("GET", f"/yard/{aimed.rig}")["out"] is None


def test_a_viewer_is_not_named_and_nobody_of_elsewhere(aimed: Fleet, stranger: Api) -> None:
    for who in (member(aimed.api, "viewer"), member(stranger, "stranger")):
        body = {"why": "Nail", "sign_off": who}
        assert aimed.api.no("PUT", f"/rigs/{aimed.rig}/out-of-service", body, 422, "sign_off")
