"""What is turned away before it reaches a room, and a sweep of nonsense over the whole API."""

import json
from collections.abc import Callable
from typing import Any
from urllib.parse import urlencode

import pytest
import schemathesis
from django.test import Client
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from ballast.server.api import api as ninja
from tests.server.conftest import COACH, TICKET, Api, Fleet


def raw(api: Api, path: str, body: bytes, content_type: str = "application/json", method: str = "POST") -> Any:
    return api.client.generic(method, f"/api/v1/{path.lstrip('/')}", body, content_type=content_type)


@pytest.mark.parametrize("body", [b"", b"{", b"nope", b"\xff\xfe{}", b"[" * 100_000, b'{"a": 1} {"b": 2}'])
def test_what_is_not_json_is_told(api: Api, body: bytes) -> None:
    reply = raw(api, "/rigs", body)
    assert reply.status_code in (400, 422)
    assert reply.json()["message"]


@pytest.mark.parametrize("constant", ["NaN", "Infinity", "-Infinity"])
def test_nan_and_infinities_are_no_numbers(fleet: Fleet, constant: str) -> None:
    body = f'{{"rig": {fleet.rig}, "axles": [{{"left_kg": {constant}, "right_kg": 1}}]}}'
    reply = raw(fleet.api, "work/weighing", body.encode())
    assert reply.status_code == 400
    assert f"{constant} is not a number" in reply.json()["message"]


@pytest.mark.parametrize("typed", ["NaN", "inf", "-inf", "1e999"])
def test_nor_are_they_as_words(fleet: Fleet, typed: str) -> None:
    body = {"rig": fleet.rig, "axles": [{"left_kg": typed}]}
    assert fleet.api.no("POST", "work/weighing", body, 422, "axles.0.left_kg")


def test_five_megabytes_are_too_many(api: Api) -> None:
    reply = raw(api, "/rigs", b'{"name": "' + b"x" * 5_000_000 + b'"}')
    assert reply.status_code == 413
    assert "Send less at once" in reply.json()["message"]


@pytest.mark.parametrize(
    "content_type", ["text/plain", "application/x-www-form-urlencoded", "multipart/form-data; boundary=x", ""]
)
def test_other_content_types_are_refused(api: Api, content_type: str) -> None:
    reply = raw(api, "/rigs", json.dumps(COACH).encode(), content_type)
    assert reply.status_code == 415
    assert "application/json" in reply.json()["message"]


def test_a_charset_beside_the_type_is_fine(api: Api) -> None:
    assert raw(api, "/rigs", json.dumps(COACH).encode(), "application/json; charset=utf-8").status_code == 201


def test_other_methods_are_refused(api: Api) -> None:
    assert raw(api, "/yard", b"{}", method="PUT").status_code == 405


@pytest.mark.parametrize("text", ["\x00", "a\u0000b", "\ud800", "\x1b[31m"])
def test_characters_that_cannot_be_printed_are_told(fleet: Fleet, text: str) -> None:
    body = TICKET | {"scale": text}
    assert fleet.api.no("POST", f"/rigs/{fleet.rig}/weighings", body, 422, "scale")


def test_errors_name_every_field_at_once(fleet: Fleet) -> None:
    body = TICKET | {"load_state": "", "weighed_on": "soon", "axles": [{"left_kg": "?"}]}
    reply = fleet.api.call("POST", f"/rigs/{fleet.rig}/weighings", body)
    assert {f["field"] for f in reply.json()["fields"]} == {"load_state", "weighed_on", "axles.0.left_kg"}
    assert reply.json()["message"] == "3 entries cannot be used."


json_values: st.SearchStrategy[Any] = st.recursive(
    st.none() | st.booleans() | st.floats(allow_nan=False, allow_infinity=False) | st.integers() | st.text(max_size=12),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=12), inner, max_size=4),
    max_leaves=8,
)
WORK = ["work/rigs", "work/tables", "work/weighing", "work/targets", "work/air", "work/rounds"]


@pytest.mark.parametrize("path", WORK)
def test_nonsense_never_breaks_a_work_call(fleet: Fleet, path: str) -> None:
    @settings(max_examples=25, deadline=None, suppress_health_check=list(HealthCheck))
    @given(body=json_values)
    def sweep(body: Any) -> None:
        assert fleet.api.call("POST", path, body).status_code < 500

    sweep()


@pytest.mark.parametrize("field", ["left_kg", "right_kg", "whole_kg"])
def test_any_text_in_a_weight_is_a_number_or_a_refusal(fleet: Fleet, field: str) -> None:
    @settings(max_examples=40, deadline=None, suppress_health_check=list(HealthCheck))
    @given(text=st.text(max_size=20))
    def sweep(text: str) -> None:
        body = {"rig": fleet.rig, "axles": [{field: text}]}
        reply = fleet.api.call("POST", "work/weighing", body)
        assert reply.status_code in (200, 422)
        if reply.status_code == 422:
            assert f"axles.0.{field}" in reply.content.decode()

    sweep()


def sweep_operation(operation: Any, client: Client, wrong: list[str]) -> int:
    """Calls an operation with what Schemathesis makes of its schema; returns how often."""
    count = 0

    @settings(max_examples=12, deadline=None, suppress_health_check=list(HealthCheck), database=None)
    @given(case=operation.as_strategy())
    def call(case: Any) -> None:
        nonlocal count
        count += 1
        sent = case.as_transport_kwargs(base_url="http://testserver")
        body = sent.get("json", sent.get("data"))
        data = body if isinstance(body, bytes | str) else json.dumps(body) if body is not None else ""
        query = urlencode(sent.get("params") or {}, doseq=True)
        path = sent["url"].removeprefix("http://testserver")
        reply = client.generic(
            case.method, path, data, content_type=case.media_type or "application/json", QUERY_STRING=query
        )
        if reply.status_code >= 500:
            wrong.append(f"{operation.label}: {reply.status_code} for {data!r}")

    call()
    return count


@schemathesis.serializer("application/zip")
def as_it_is(_: Any, value: Any) -> bytes:
    """An archive is sent as the bytes that it is."""
    return value if isinstance(value, bytes) else getattr(value, "data", b"") or str(value).encode()


def test_the_whole_document_without_a_server_error(aimed: Fleet, api_as: Callable[[str], Api]) -> None:
    """Valid and invalid calls of every operation in the OpenAPI document; none may end in a 5xx."""
    aimed.open_round()
    document = ninja.get_openapi_schema(path_prefix="/api/v1/")
    schema = schemathesis.openapi.from_dict(json.loads(json.dumps(document)))
    wrong: list[str] = []
    count = 0
    for found in schema.get_all_operations():
        client = api_as("manager").client
        client.raise_request_exception = False
        count += sweep_operation(found.ok(), client, wrong)
    assert wrong == []
    assert count > 300
