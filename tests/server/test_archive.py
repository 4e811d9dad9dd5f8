"""A whole workspace out as one file, and in again."""

import base64
import hashlib
import io
import itertools
import json
import re
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from django.apps import apps
from django.core.management import CommandError, call_command
from django.db import connection, models
from django.test import Client
from django.utils import timezone
from PIL import Image

from ballast.demo.clock import at
from ballast.server.accounts.models import Membership, Person, Workspace
from ballast.server.accounts.services import mark
from ballast.server.api import api as whole_api
from ballast.server.archive import forms
from ballast.server.edge.packed import PackedField
from ballast.server.rigs.models import Rig, Tire
from ballast.server.rounds import stored
from ballast.server.rounds.models import Reading, Round, RoundText
from ballast.server.weighing.models import Weighing
from ballast.server.yard import standings
from tests.server.conftest import Api

ARCHIVE = "application/zip"


@pytest.fixture(scope="module", autouse=True)
def copied(demo_copied: None) -> None:
    """The world is there for all of the file."""


@pytest.fixture(autouse=True)
def one_day() -> None:
    """The demo lives today."""


@pytest.fixture(autouse=True)
def real_stand_in(db: None, settings: Any) -> None:
    settings.WEATHER_SERVICE = "ballast.standins.weather.SimulatedWeather"
    settings.DEMO = True


def maintainer() -> Api:
    api = Api(Client())
    api.ok("POST", "/session/demo", {"username": "fleet-maintainer"})
    return api


def fetched(api: Api) -> bytes:
    reply = api.call("GET", "/archive")
    assert reply.status_code == 200
    return b"".join(reply.streaming_content)  # type: ignore[attr-defined]


def send(api: Api, data: bytes) -> Any:
    return api.client.generic("POST", "/api/v1/archive", data, content_type=ARCHIVE)


def made_anew(data: bytes, change: Callable[[str, bytes], bytes | None]) -> bytes:
    """The same archive with some of its files changed, or left out."""
    to = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as was, zipfile.ZipFile(to, "w") as now:
        for name in was.namelist():
            if (content := change(name, was.read(name))) is not None:
                now.writestr(name, content)
    return to.getvalue()


def workspace_of(api: Api) -> Workspace:
    return Workspace.objects.get(pk=api.ok("GET", "/session")["workspace"]["id"])


# -- elsewhere -----------------------------------------------------------------------------------------

# What a page gave a row for a name, and somebody of a list of people.
NAMED = re.compile(r"[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}|\"m\d+\"")


def rows(model: Any, way: str, workspace: Workspace) -> list[int]:
    return list(model._base_manager.filter(**{way: workspace}).order_by("pk").values_list("pk", flat=True))


def addresses(workspace: Workspace) -> Iterator[str]:
    """Every address of the API that reads what a workspace holds, over its rigs and some of its other rows."""
    some = {
        "rig_id": rows(Rig, "workspace", workspace),
        "round_id": rows(Round, "rig__workspace", workspace)[-12:],
        "weighing_id": rows(Weighing, "rig__workspace", workspace)[:6],
        "tire_id": rows(Tire, "workspace", workspace)[:6],
    }
    # Who signs in, and what stays: keys, calendars, practice.
    left_out = ("/session", "/archive", "/keys", "/calendar", "/feeds", "/practice", "/notice", "/people", "/crews")
    for path, ways in sorted(whole_api.get_openapi_schema(path_prefix="/")["paths"].items()):
        wanted = re.findall(r"{(\w+)}", path)
        if "get" in ways and set(wanted) <= set(some) and not path.startswith(left_out):
            for numbers in itertools.product(*(some[w] for w in wanted)):
                yield path.format(**dict(zip(wanted, numbers, strict=True)))


def answer(api: Api, path: str) -> tuple[int, str]:
    """What an address gives; what a page gave a row for a name stands as its turn."""
    reply = api.call("GET", path)
    body = b"".join(reply.streaming_content) if reply.streaming else reply.content  # type: ignore[attr-defined]
    turns: dict[str, str] = {}
    return reply.status_code, NAMED.sub(lambda n: turns.setdefault(n[0], f"#{len(turns)}"), body.decode("latin-1"))


def test_moved_to_another_installation_every_answer_and_every_file_is_the_same() -> None:
    with at(timezone.now()):
        api = maintainer()
        was = {path: answer(api, path) for path in addresses(workspace_of(api))}
        data = fetched(api)
        # One engine empties no table of which something is still to be looked at when all is done.
        connection.check_constraints()
        call_command("flush", interactive=False, verbosity=0)
        mark("demo")
        person = Person.objects.create(username="fleet-maintainer", first_name="Fleet maintainer")
        Membership.objects.create(person=person, workspace=Workspace.objects.create(name="New"), role="manager")
        api = maintainer()
        brought = send(api, data)
        assert brought.status_code == 200, brought.content
        assert json.loads(brought.content) == {
            "workspace": "Copperfinch Sky Caravan", "rigs": 10, "rounds": Round.objects.count(),
            "readings": Reading._base_manager.count(), "pictures": 0, "people": ["Technician", "Auditor"],
        }  # fmt: skip
        # They may come in again once a manager says so; until then nothing is given to them.
        for member in api.ok("GET", "/people"):
            api.ok("PUT", f"/people/{member['id']}/off", {"off": False})
        now = {path: answer(api, path) for path in addresses(workspace_of(api))}
        assert len(was) > 500
        assert now == was


# -- beside what is here already -------------------------------------------------------------------------


def beside() -> tuple[Api, bytes, Workspace, Workspace]:
    """The maintainer with their workspace's archive and a new workspace in hand."""
    api = maintainer()
    there, data = workspace_of(api), fetched(api)
    api.ok("POST", "/workspaces", {"name": "Elsewhere"})
    return api, data, there, workspace_of(api)


def test_beside_the_one_it_came_from_nothing_reaches_over() -> None:
    api, data, there, here = beside()
    before = {k.label: k.rows(there).count() for k in forms.kept()}
    assert send(api, data).status_code == 200
    for kind in forms.kept():
        own = kind.rows(here)
        if kind.label not in ("accounts.Membership", "accounts.HistoricalMembership", "accounts.HistoricalWorkspace"):
            assert (own.count(), kind.rows(there).count()) == (before[kind.label], before[kind.label])
        for f in kind.model._meta.concrete_fields:
            to = next((k for k in forms.kept() if k.model is f.related_model), None)
            if to is not None:
                named = set(own.exclude(**{f.name: None}).values_list(f.attname, flat=True))
                assert named <= set(to.rows(here).values_list("pk", flat=True)), (kind.label, f.name)
    # In the text of a round too.
    text = RoundText.objects.filter(round__rig__workspace=here).exclude(result=None).latest("pk")
    sealed = stored.as_sealed(text)
    assert sealed is not None
    assert sealed.id == text.round_id
    assert {sealed.rig, *(w.rig for w in sealed.wheels)} <= set(rows(Rig, "workspace", here))
    reading = Reading.objects.get(uuid=next(w.before.uuid for w in sealed.wheels if w.before))
    assert (reading.round_id, reading.entered_by.shown_name) == (text.round_id, "Technician")
    assert {line.tire for line in stored.lines(text.round)} - {None} <= set(rows(Tire, "workspace", here))
    # What hangs on all of it is worked out anew, and the same as if it had been entered here.
    actor = standings.reader(here)
    assert actor is not None
    while standings.renew(actor):
        pass
    assert standings.differing(actor) == []


def test_nobody_comes_in_by_an_archive_and_no_secret_is_in_it() -> None:
    api, data, there, here = beside()
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        names = set(archive.namelist())
        people = [json.loads(line) for line in archive.read(forms.PEOPLE).splitlines()]
        whole = b"".join(archive.read(n) for n in names)
    assert names == {forms.MANIFEST, forms.PEOPLE, *(k.name for k in forms.kept())}
    assert {tuple(sorted(p)) for p in people} == {("id", "name", "units", "username")}
    assert b"password" not in whole
    for label in forms.STAYS:
        assert f"rows/{label}.jsonl" not in names
    assert send(api, data).status_code == 200
    who = {m.person.username: m for m in Membership.objects.filter(workspace=here).select_related("person")}
    assert who.keys() == {"fleet-maintainer", "technician-2", "auditor-2"}
    assert [m.off_at is None for m in who.values()] == [True, False, False]
    assert not who["technician-2"].person.has_usable_password()
    # Whoever is in both is offered once at the demo's door, and who may not come in not at all.
    shown = [p["username"] for p in Api(Client()).ok("GET", "/session")["demo"]]
    assert shown == ["fleet-maintainer", "technician", "auditor", "rv-owner"]
    # The technician of here is another than the one of there, though both are called so.
    technician = Person.objects.get(username="technician")
    assert not Membership.objects.filter(person=technician, workspace=here).exists()
    assert not Reading.objects.filter(round__rig__workspace=here, entered_by=technician).exists()
    assert Reading.objects.filter(round__rig__workspace=there, entered_by=technician).exists()


# -- what is turned away ---------------------------------------------------------------------------------


def resealed(data: bytes, name: str, change: Callable[[list[dict[str, Any]]], None]) -> bytes:
    """The same archive with the rows of a file changed, and said to be so."""

    def both(at: str, content: bytes) -> bytes:
        return text if at == name else manifest if at == forms.MANIFEST else content

    with zipfile.ZipFile(io.BytesIO(data)) as was:
        lines = [json.loads(line) for line in was.read(name).splitlines()]
        change(lines)
        text = b"".join(json.dumps(row).encode() + b"\n" for row in lines)
        said = json.loads(was.read(forms.MANIFEST))
    said["files"][name] = {"rows": len(lines), "sha256": hashlib.sha256(text).hexdigest()}
    manifest = json.dumps(said).encode()
    return made_anew(data, both)


def said_otherwise(**fields: Any) -> Callable[[str, bytes], bytes | None]:
    def change(name: str, content: bytes) -> bytes:
        return json.dumps(json.loads(content) | fields).encode() if name == forms.MANIFEST else content

    return change


WHOLE = "That is no archive of a workspace, or not the whole of one. Choose the ZIP file as it was fetched."


def test_half_a_file_another_version_and_what_is_forged_are_refused_whole() -> None:
    api, data, there, here = beside()
    rig, foreign = rows(Rig, "workspace", there)[0], Rig.objects.exclude(workspace=there).order_by("id")[0].pk
    name = "rows/rigs.Axle.jsonl"

    def first(**fields: Any) -> Callable[[list[dict[str, Any]]], None]:
        return lambda lines: lines[0].update(fields)

    def twice(lines: list[dict[str, Any]]) -> None:
        lines.append(lines[0])

    assert rig != foreign
    cases: list[tuple[bytes, str]] = [
        (b"", WHOLE),
        (b"PK nothing", WHOLE),
        (data[: len(data) // 2], WHOLE),
        (made_anew(data, lambda n, c: None if n == name else c), WHOLE),
        (made_anew(data, lambda n, c: c[: len(c) // 2] if n == name else c), WHOLE),
        (made_anew(data, lambda n, c: c.replace(b"Technician", b"Somebody") if n == forms.PEOPLE else c), WHOLE),
        (made_anew(data, lambda n, c: b"[" * 5000 if n == forms.MANIFEST else c), WHOLE),
        (made_anew(data, said_otherwise(format="another")), WHOLE),
        (made_anew(data, said_otherwise(version=2)), "The archive is of version 2; this application reads 1."),
        (made_anew(data, said_otherwise(newest={"rigs": "0001_initial"})), "The archive is of another version of the application"),
        (resealed(data, name, first(rig_id=foreign)), "it names a row of rigs.Rig that is not in the archive"),
        (resealed(data, name, first(rig_id="1")), "a number of a row is none"),
        (resealed(data, name, first(gawr_kg="much")), "gawr_kg is of another kind"),
        (resealed(data, name, first(gawr_kg=float("inf"))), WHOLE),
        (resealed(data, name, first(another=1)), "its columns are others"),
        (resealed(data, "rows/rigs.Rig.jsonl", first(id="1")), WHOLE),
        (resealed(data, name, first(tire_size="x" * 500)), "at most"),
        (resealed(data, name, twice), "The archive contradicts itself"),
        (resealed(data, "rows/rigs.Rig.jsonl", first(workspace_id=here.pk)), "it is of another workspace"),
        (resealed(data, "rows/accounts.Membership.jsonl", first(role="owner")), "not a valid choice"),
        (resealed(data, "rows/rounds.RoundText.jsonl", first(sheet={"version": 2, "value": [{"code": 1}]})), "line 1"),
        (resealed(data, forms.PEOPLE, lambda lines: lines.clear()), "it names somebody who is not in the archive"),
    ]  # fmt: skip
    before = Person.objects.count()
    for sent, why in cases:
        reply = send(api, sent)
        told = json.loads(reply.content)
        assert (reply.status_code, why in told["message"]) == (422, True), (why, told)
        assert told["fields"][0]["field"] == "content"
    assert Person.objects.count() == before
    assert api.ok("GET", "/archive/holds")["empty"]
    assert workspace_of(api).name == "Elsewhere"
    # As it was fetched it comes in, once.
    assert send(api, data).status_code == 200
    again = send(api, data)
    assert again.status_code == 409
    assert "an archive comes into an empty workspace" in json.loads(again.content)["message"]


def test_a_body_too_large_or_of_another_kind_is_not_read(settings: Any) -> None:
    api, data, _, _ = beside()
    settings.ARCHIVE_MOST = 1000
    assert send(api, data).status_code == 413
    assert api.client.generic("POST", "/api/v1/rigs", data, content_type=ARCHIVE).status_code in (413, 415)


def test_pictures_come_along_and_are_what_they_are_called(tmp_path: Path, settings: Any) -> None:
    settings.PICTURES = tmp_path / "there"
    api = maintainer()
    rig = rows(Rig, "workspace", workspace_of(api))[0]
    to = io.BytesIO()
    Image.new("RGB", (40, 30), "teal").save(to, "PNG")
    body = {"what": "label", "content": base64.b64encode(to.getvalue()).decode()}
    uuid = api.ok("PUT", f"/rigs/{rig}/pictures/{uuid4()}", body)["uuid"]
    was = answer(api, f"/pictures/{uuid}/file")
    data = fetched(api)
    settings.PICTURES = tmp_path / "here"
    api.ok("POST", "/workspaces", {"name": "Elsewhere"})
    other = made_anew(data, lambda n, c: c + b"more" if n.startswith(forms.PICTURES) else c)
    assert WHOLE in json.loads(send(api, other).content)["message"]
    lost = made_anew(data, lambda n, c: None if n.startswith(forms.PICTURES) else c)
    assert WHOLE in json.loads(send(api, lost).content)["message"]
    assert not list((tmp_path / "here").glob("*/*"))
    assert json.loads(send(api, data).content)["pictures"] == 1
    rig = rows(Rig, "workspace", workspace_of(api))[0]
    (picture,) = api.ok("GET", f"/rigs/{rig}/pictures")["pictures"]
    assert picture["uuid"] != uuid
    assert answer(api, f"/pictures/{picture['uuid']}/file") == was


def test_the_command_takes_what_is_too_large_for_a_browser(tmp_path: Path) -> None:
    file, said = tmp_path / "owner.zip", io.StringIO()
    call_command("archive", file, of="rv-owner", stdout=said)
    assert file.stat().st_mode & 0o777 == 0o600
    with pytest.raises(CommandError, match="exists"):
        call_command("archive", file, of="rv-owner")
    with pytest.raises(CommandError, match="an archive comes into an empty workspace"):
        call_command("archive", file, of="rv-owner", come_in=True)
    with pytest.raises(CommandError, match="“auditor” manages no such workspace here"):
        call_command("archive", file, of="auditor")
    person = Person.objects.get(username="rv-owner")
    made = Workspace.objects.create(name="New")
    Membership.objects.create(person=person, workspace=made, role="manager")
    call_command("archive", file, of="rv-owner", workspace=made.pk, come_in=True, stdout=said)
    assert "Thistledown Weekenders: 2 rigs" in said.getvalue()
    assert [r.name for r in Rig.objects.filter(workspace=made).order_by("name")] == ["Noctule", "Pipistrelle"]


def test_every_kind_of_row_is_in_it_or_said_to_stay() -> None:
    known = {k.label for k in forms.kept()} | forms.STAYS | {"accounts.Person", "accounts.Workspace", "accounts.World"}
    ours = {m._meta.label for m in apps.get_models() if m.__module__.startswith("ballast.server.")}
    assert ours == known
    # A number in a row's JSON that stands for a row has to be said: these fields were looked through.
    json_fields = {
        f"{m._meta.label}.{f.name}"
        for m in (k.model for k in forms.kept() if not k.is_history)
        for f in m._meta.concrete_fields
        if isinstance(f, models.JSONField | PackedField)
    }
    assert len(json_fields) == 49, "Say in forms.REFERS where a new field names rows, and count it here."
