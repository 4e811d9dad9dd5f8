"""A workspace out: its rows, its people's names and its pictures as one file, all of one moment."""

import hashlib
import json
import zipfile
from collections.abc import Iterable
from dataclasses import dataclass
from typing import IO, Any

from ballast.server.accounts.actors import Actor, May
from ballast.server.accounts.models import Person
from ballast.server.archive import forms
from ballast.server.edge import clock
from ballast.server.edge.writing import one_moment
from ballast.server.pictures import files
from ballast.server.pictures.models import Picture
from ballast.server.rigs.models import Rig
from ballast.server.rounds.models import Reading, Round


@dataclass(frozen=True)
class Holds:
    """What an archive of a workspace holds by now, and whether the workspace could take one in; pictures in bytes."""

    rigs: int
    rounds: int
    readings: int
    pictures: int
    pictures_size: int
    empty: bool


def is_empty(actor: Actor) -> bool:
    """Whether nothing was entered in a workspace but who is in it."""
    of_people = ("accounts.HistoricalWorkspace", "accounts.Membership", "accounts.HistoricalMembership")
    return not any(k.rows(actor.workspace).exists() for k in forms.kept() if k.label not in of_people)


def holds(actor: Actor) -> Holds:
    actor.must(May.PEOPLE)
    sizes = dict(Picture.objects.of(actor.workspace).values_list("content", "size"))
    return Holds(
        rigs=Rig.objects.of(actor.workspace).count(),
        rounds=Round.objects.filter(rig__workspace=actor.workspace).count(),
        readings=Reading.objects.filter(round__rig__workspace=actor.workspace).count(),
        pictures=len(sizes), pictures_size=sum(sizes.values()), empty=is_empty(actor),
    )  # fmt: skip


class _Written:
    """What was written into an archive so far: of each file its lines and what they come to."""

    def __init__(self, archive: zipfile.ZipFile) -> None:
        self.archive = archive
        self.files: dict[str, dict[str, Any]] = {}
        self.dumped = json.JSONEncoder(
            ensure_ascii=False, separators=(",", ":"), allow_nan=False, default=forms.plain
        ).encode

    def lines(self, name: str, rows: Iterable[forms.Row]) -> None:
        mark, count = hashlib.sha256(), 0
        with self.archive.open(name, "w", force_zip64=True) as to:
            for row in rows:
                line = self.dumped(row).encode() + b"\n"
                mark.update(line)
                to.write(line)
                count += 1
        self.files[name] = {"rows": count, "sha256": mark.hexdigest()}


def write(actor: Actor, to: IO[bytes]) -> None:
    """Writes the actor's workspace into an open file, a row at a time.

    Ways in (passwords, second factors, keys, links, addresses of calendars and mail) are not in it, nor is practice.
    """
    actor.must(May.PEOPLE)
    workspace, people = actor.workspace, set[int]()

    def rows_of(kind: forms.Kept) -> Iterable[forms.Row]:
        named = forms.people_in(kind.model)
        for said in forms.out(kind, workspace):
            for column in named:
                whom = said[column]
                people.update(whom if isinstance(whom, list) else [] if whom is None else [whom])
            yield said

    with one_moment(), zipfile.ZipFile(to, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as archive:
        written = _Written(archive)
        for kind in forms.kept():
            written.lines(kind.name, rows_of(kind))
        whom = Person.objects.filter(pk__in=people).order_by("pk")
        written.lines(
            forms.PEOPLE,
            ({"id": p.pk, "username": p.username, "name": p.shown_name, "units": p.units} for p in whom),
        )
        pictures = []
        for content in sorted(set(Picture.objects.of(workspace).values_list("content", flat=True))):
            # A file that is lost here is lost there too: its row says what it showed.
            if (path := files.path_of(content)).exists():
                archive.write(path, f"{forms.PICTURES}{content}.jpg", zipfile.ZIP_STORED)
                pictures.append(content)
        manifest = {
            "format": forms.FORMAT, "version": forms.VERSION, "made_at": clock.now().isoformat(),
            "made_by": actor.person.shown_name, "newest": forms.newest(), "workspace": {f.attname: f.value_from_object(workspace) for f in workspace._meta.concrete_fields},
            "files": written.files, "pictures": pictures,
        }  # fmt: skip
        archive.writestr(forms.MANIFEST, json.dumps(manifest, ensure_ascii=False, indent=1))
