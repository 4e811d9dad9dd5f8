"""What is printed of many rigs at once."""

import pytest

from tests.server.conftest import COACH, TICKET, Api, Fleet


def pages(document: bytes) -> int:
    return document.count(b"/Type /Page\n") + document.count(b"/Type /Page ")


def another(fleet: Fleet, name: str, **more: object) -> int:
    made = fleet.api.ok("POST", "/rigs", COACH | {"name": name, "fleet_number": name, **more})["id"]
    fleet.api.ok("POST", f"/rigs/{made}/weighings", TICKET)
    fleet.api.ok("POST", f"/rigs/{made}/targets", {})
    return int(made)


@pytest.mark.parametrize(("what", "name"), [("cards", "pressure-cards"), ("sheets", "rounds")])
def test_many_come_in_one_document_a_page_each(aimed: Fleet, what: str, name: str) -> None:
    more = [another(aimed, n) for n in ("Zenith", "Nadir")]
    reply = aimed.api.call("GET", f"/yard/{what}.pdf?rigs={aimed.rig}&rigs={more[0]}&rigs={more[1]}")
    assert reply.headers["Content-Type"] == "application/pdf"
    assert f'and-2-more-{name}.pdf"' in reply.headers["Content-Disposition"]
    assert pages(reply.content) == 3
    alone = aimed.api.call("GET", f"/yard/{what}.pdf?rigs={more[0]}")
    assert pages(alone.content) == 1
    assert "more" not in alone.headers["Content-Disposition"]


def test_a_combination_is_printed_once(aimed: Fleet) -> None:
    trailer = aimed.api.ok(
        "POST", "/rigs", COACH | {"name": "Tow", "fleet_number": "T-1", "kind": "trailer", "spares": []}
    )["id"]
    aimed.api.ok("PUT", f"/rigs/{trailer}/hitch", {"behind": aimed.rig})
    both = aimed.api.call("GET", f"/yard/sheets.pdf?rigs={trailer}&rigs={aimed.rig}")
    assert both.content == aimed.api.call("GET", f"/yard/sheets.pdf?rigs={aimed.rig}").content


def test_too_many_none_and_those_of_others_are_refused(aimed: Fleet, stranger: Api) -> None:
    assert "1 to 50" in aimed.api.no(
        "GET", "/yard/cards.pdf?" + "&".join(f"rigs={n}" for n in range(1, 52)), None, 422, "rigs"
    )
    aimed.api.no("GET", "/yard/sheets.pdf", None, 422, "rigs")
    assert "not in this workspace" in stranger.no("GET", f"/yard/cards.pdf?rigs={aimed.rig}", None, 422, "rigs")
    aimed.api.no("GET", f"/yard/cards.pdf?rigs={aimed.rig}&paper_size=poster", None, 422, "paper_size")
