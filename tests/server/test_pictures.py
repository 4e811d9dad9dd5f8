"""Pictures: what is kept of one, whose it is, what it costs, and that a copy of the database has it."""

import datetime as dt
import io
from base64 import b64encode
from collections.abc import Callable
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from django.utils import timezone
from PIL import Image, JpegImagePlugin

from ballast.server.pictures.models import Picture
from ballast.server.upkeep.copies import copy_pictures
from tests.server.conftest import Api, Fleet

ORIENTATION, MAKER, GPS = 0x0112, 0x010F, 0x8825


@pytest.fixture(autouse=True)
def folder(settings: Any, tmp_path: Path) -> Path:
    settings.PICTURES = tmp_path / "pictures"
    return settings.PICTURES  # type: ignore[no-any-return]


def taken(kind: str = "JPEG", size: tuple[int, int] = (3000, 2000), **more: Any) -> bytes:
    out = io.BytesIO()
    # Stripes of two colors across, so that it shows which way it stands.
    picture = Image.linear_gradient("L").resize(size).convert("RGB")
    picture.save(out, kind, **more)
    return out.getvalue()


def body(data: bytes, **more: Any) -> dict[str, Any]:
    return {"what": "label", "content": b64encode(data).decode()} | more


def kept(api: Api, uuid: object) -> bytes:
    reply = api.call("GET", f"/pictures/{uuid}/file")
    assert reply.status_code == 200
    assert (reply["Content-Type"], reply["X-Content-Type-Options"]) == ("image/jpeg", "nosniff")
    return b"".join(reply.streaming_content)  # type: ignore[attr-defined]


def test_a_picture_is_made_anew_small_and_without_what_the_camera_wrote(fleet: Fleet, folder: Path) -> None:
    exif = Image.Exif()
    exif[ORIENTATION], exif[MAKER] = 6, "Somebody"
    exif.get_ifd(GPS)[1] = "N"
    sent = taken(exif=exif.tobytes(), quality=100)
    uuid = uuid4()
    told = fleet.api.ok("PUT", f"/rigs/{fleet.rig}/pictures/{uuid}", body(sent, place="label"))
    # Turned upright: 3,000 × 2,000 becomes 2,000 × 3,000, and that 1,067 × 1,600.
    assert (told["width"], told["height"], told["name"]) == (1067, 1600, "Label")
    data = kept(fleet.api, uuid)
    assert len(data) <= 400_000
    assert data != sent
    shown = Image.open(io.BytesIO(data))
    assert isinstance(shown, JpegImagePlugin.JpegImageFile)
    assert shown.size == (1067, 1600)
    assert not shown.getexif()
    assert b"Somebody" not in data
    [file] = folder.glob("*/*.jpg")
    assert file.read_bytes() == data
    assert file.stat().st_mode & 0o077 == 0


@pytest.mark.parametrize("kind", ["PNG", "WEBP"])
def test_the_format_is_read_from_the_content(fleet: Fleet, kind: str) -> None:
    assert fleet.api.ok("PUT", f"/rigs/{fleet.rig}/pictures/{uuid4()}", body(taken(kind, (40, 30))))["width"] == 40


def unfolding() -> bytes:
    out = io.BytesIO()
    Image.new("1", (12_000, 6_000)).save(out, "PNG")
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"GIF89a" + b"\0" * 40, "no picture in JPEG, PNG or WebP"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>", "no picture in JPEG, PNG or WebP"),
        (b"\0\0\0\x18ftypheic" + b"\0" * 40, "no picture in JPEG, PNG or WebP"),
        (taken(size=(400, 300))[:900], "breaks off, or is damaged"),
        (unfolding(), "more than 60,000,000 pixels"),
    ],
)
def test_what_is_no_picture_is_refused_in_words(fleet: Fleet, data: bytes, words: str) -> None:
    path = f"/rigs/{fleet.rig}/pictures/{uuid4()}"
    assert words in fleet.api.no("PUT", path, body(data), 422, "content")
    assert not Picture.objects.exists()


def test_sent_twice_it_is_kept_once_and_the_same_picture_has_one_file(fleet: Fleet, folder: Path) -> None:
    uuid, data = uuid4(), body(taken(size=(200, 100)))
    for _ in range(2):
        fleet.api.ok("PUT", f"/rigs/{fleet.rig}/pictures/{uuid}", data)
    fleet.api.ok("PUT", f"/rigs/{fleet.rig}/pictures/{uuid4()}", data | {"what": "ticket", "weighing": fleet.weighing})
    listed = fleet.api.ok("GET", f"/rigs/{fleet.rig}/pictures")
    assert [p["what"] for p in listed["pictures"]] == ["label", "ticket"]
    assert len(list(folder.glob("*/*.jpg"))) == 1
    assert listed["used"] == next(folder.glob("*/*.jpg")).stat().st_size
    assert listed["quota"] == 2_000_000_000


def test_a_picture_is_its_workspaces_alone(fleet: Fleet, stranger: Api, api_as: Callable[[str], Api]) -> None:
    uuid = uuid4()
    path = f"/rigs/{fleet.rig}/pictures"
    fleet.api.ok("PUT", f"{path}/{uuid}", body(taken(size=(200, 100))))
    for method, there in (("GET", path), ("GET", f"/pictures/{uuid}/file"), ("DELETE", f"/pictures/{uuid}")):
        stranger.no(method, there, None, 404)
    stranger.no("PUT", f"{path}/{uuid4()}", body(taken(size=(200, 100))), 404)
    viewer = api_as("viewer")
    assert viewer.ok("GET", path)["pictures"][0]["own"] is False
    viewer.no("PUT", f"{path}/{uuid4()}", body(taken(size=(200, 100))), 403)
    # A technician takes off what is his own.
    technician, own = api_as("technician"), uuid4()
    technician.no("DELETE", f"/pictures/{uuid}", None, 403)
    technician.ok("PUT", f"{path}/{own}", body(taken(size=(90, 100))))
    technician.ok("DELETE", f"/pictures/{own}")
    assert len(technician.ok("GET", path)["pictures"]) == 1
    technician.ok("POST", f"/pictures/{own}/restore")
    assert len(technician.ok("GET", path)["pictures"]) == 2


def test_a_picture_of_what_is_another_rigs_is_refused(fleet: Fleet) -> None:
    other = fleet.api.ok("POST", "/rigs", {"kind": "van", "name": "Gnomon", "axles": [{"tire_size": "225/75R16C"}]})[
        "id"
    ]
    small = body(taken(size=(90, 100)))
    path = f"/rigs/{other}/pictures/{uuid4()}"
    assert "no such weighing" in fleet.api.no("PUT", path, small | {"weighing": fleet.weighing}, 422, "weighing")
    at = fleet.open_round()["id"]
    assert "no such round" in fleet.api.no("PUT", path, small | {"round": at, "wheel": "1L"}, 422, "round")
    told = fleet.api.ok(
        "PUT", f"/rigs/{fleet.rig}/pictures/{uuid4()}", small | {"round": at, "wheel": "2Li", "what": "damage"}
    )
    assert (told["round"], told["wheel"], told["name"]) == (at, "2Li", "Damage")


def test_a_workspace_keeps_no_more_than_its_quota_and_what_was_taken_off_goes(
    fleet: Fleet, settings: Any, folder: Path, django_capture_on_commit_callbacks: Any
) -> None:
    path = f"/rigs/{fleet.rig}/pictures"
    first = uuid4()
    fleet.api.ok("PUT", f"{path}/{first}", body(taken(size=(300, 200))))
    settings.PICTURES_QUOTA = fleet.api.ok("GET", path)["used"] + 10
    more = body(taken(size=(310, 200)))
    assert "Take some off first" in fleet.api.no("PUT", f"{path}/{uuid4()}", more, 409, "content")
    # Taken off it can be put back; two weeks later its file is gone with the next picture.
    fleet.api.ok("DELETE", f"/pictures/{first}")
    # Room for both: what can be put back is on the disk too.
    settings.PICTURES_QUOTA *= 3
    fleet.api.ok("PUT", f"{path}/{uuid4()}", more)
    assert len(list(folder.glob("*/*.jpg"))) == 2
    Picture.objects.filter(pk=first).update(removed_at=timezone.now() - dt.timedelta(days=15))
    settings.PICTURES_QUOTA *= 2
    with django_capture_on_commit_callbacks(execute=True):
        fleet.api.ok("PUT", f"{path}/{uuid4()}", body(taken(size=(320, 200))))
    assert not Picture.objects.filter(pk=first).exists()
    assert len(list(folder.glob("*/*.jpg"))) == 2


def test_what_was_taken_off_counts_until_its_room_is_wanted(
    fleet: Fleet, settings: Any, folder: Path, django_capture_on_commit_callbacks: Any
) -> None:
    path = f"/rigs/{fleet.rig}/pictures"
    first = uuid4()
    fleet.api.ok("PUT", f"{path}/{first}", body(taken(size=(300, 200))))
    used = fleet.api.ok("GET", path)["used"]
    fleet.api.ok("DELETE", f"/pictures/{first}")
    assert fleet.api.ok("GET", path)["used"] == used
    settings.PICTURES_QUOTA = used + 10
    with django_capture_on_commit_callbacks(execute=True):
        fleet.api.ok("PUT", f"{path}/{uuid4()}", body(taken(size=(290, 200))))
    # It is gone from the disk, and cannot be put back.
    assert len(list(folder.glob("*/*.jpg"))) == 1
    fleet.api.no("POST", f"/pictures/{first}/restore", None, 404)


def test_a_file_that_is_missing_is_said(fleet: Fleet, folder: Path) -> None:
    uuid = uuid4()
    fleet.api.ok("PUT", f"/rigs/{fleet.rig}/pictures/{uuid}", body(taken(size=(200, 100))))
    next(folder.glob("*/*.jpg")).unlink()
    assert "file is missing" in fleet.api.no("GET", f"/pictures/{uuid}/file", None, 422)


def test_pictures_go_into_a_copy_and_come_back_from_it(fleet: Fleet, folder: Path, tmp_path: Path) -> None:
    for width in (100, 110):
        fleet.api.ok("PUT", f"/rigs/{fleet.rig}/pictures/{uuid4()}", body(taken(size=(width, 90))))
    copy = tmp_path / "copy.pictures"
    assert copy_pictures(folder, copy) == 2
    there = {p.name: p.read_bytes() for p in folder.glob("*/*.jpg")}
    next(folder.glob("*/*.jpg")).unlink()
    assert copy_pictures(copy, folder) == 2
    assert {p.name: p.read_bytes() for p in folder.glob("*/*.jpg")} == there
