"""A workspace in, from an archive: into an empty one, all of it or nothing.

Every row gets a new number and every name that a page gave another, so that nothing of it meets what is here already; what
names a row that is not in the archive is turned away. Nobody can sign in by it.
"""

import datetime as dt
import hashlib
import io
import json
import math
import zipfile
import zlib
from collections import Counter
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from functools import partial
from typing import IO, Any, NoReturn
from uuid import UUID, uuid4, uuid5

from django.conf import settings
from django.core.exceptions import ValidationError
from django.core.management.color import no_style
from django.db import IntegrityError, connection, models
from django.db.models import Max
from PIL import Image
from pydantic import BaseModel, ConfigDict
from pydantic import ValidationError as PydanticError

from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.accounts.models import Membership, Person, Workspace
from ballast.server.archive import forms
from ballast.server.archive.out import is_empty
from ballast.server.edge import clock
from ballast.server.edge.keys import hash_of, new_key
from ballast.server.edge.problems import Conflict
from ballast.server.edge.writing import over_workspaces
from ballast.server.ground import stored as plans
from ballast.server.ground.models import GroundPlan
from ballast.server.pictures import files
from ballast.server.pictures.services import unlink_unused
from ballast.server.rounds import stored as rounds
from ballast.server.rounds.models import RoundText
from ballast.server.sensors.models import Receiver

_MOST_LINE = 20_000_000
# So much an archive may unfold to: many times what it takes as a file.
_UNFOLDED = 20
_LARGEST = 2**53
# What a workspace keeps of its own when one is brought in.
_OWN = ("id", "practice_of_id", "ahead_h")
_TYPES: tuple[tuple[Any, tuple[type, ...]], ...] = (
    (models.BooleanField, (bool,)),
    (models.FloatField, (int, float)),
    (models.IntegerField, (int,)),
    (models.CharField, (str,)),
    (models.TextField, (str,)),
    (models.DateField, (str,)),
    (models.UUIDField, (str,)),
)


class _Broken(Exception):
    """What was sent is no archive, or not the whole of one as it was written."""


@dataclass(frozen=True)
class Brought:
    """What came in, and the people who may not come in before a manager lets them."""

    workspace: str
    rigs: int
    rounds: int
    readings: int
    pictures: int
    people: list[str]


class _File(BaseModel):
    model_config = ConfigDict(extra="forbid", strict=True)
    rows: int
    sha256: str


class _Manifest(BaseModel):
    model_config = ConfigDict(extra="forbid", strict=True)
    format: str
    version: int
    made_at: str
    made_by: str
    newest: dict[str, str]
    workspace: dict[str, Any]
    files: dict[str, _File]
    pictures: list[str]


class _Whom(BaseModel):
    model_config = ConfigDict(extra="forbid", strict=True)
    id: int
    username: str
    name: str
    units: str


def _no(message: str) -> NoReturn:
    raise Refusal(message, "content")


def _not_json(word: str) -> NoReturn:
    raise ValueError(f"{word} is no number")


def _finite(digits: str) -> float:
    if math.isinf(value := float(digits)):
        _not_json(digits)
    return value


def _read(text: bytes) -> Any:
    return json.loads(text, parse_constant=_not_json, parse_float=_finite)


def _opened(archive: zipfile.ZipFile, name: str) -> IO[bytes]:
    try:
        return archive.open(name)
    except KeyError:
        raise _Broken from None


def may_take(actor: Actor) -> None:
    """Raises Denied for who may not, Conflict where something was entered already."""
    actor.must(May.PEOPLE)
    actor.must_be_here()
    if not is_empty(actor):
        raise Conflict(
            f"{actor.workspace.name} holds something already, and an archive comes into an empty workspace. Begin another"
            " under Your sign-in, and bring it in there.",
            "content",
        )


def bring_in(actor: Actor, sent: IO[bytes]) -> Brought:
    """Brings an archive into the actor's workspace. Raises Denied, Conflict, or Refusal with what is wrong with the file;
    then nothing of it is here."""
    written: set[str] = set()
    try:
        # Rows get numbers that are next: nobody else takes one meanwhile, in whatever workspace.
        with zipfile.ZipFile(sent) as archive, over_workspaces():
            may_take(actor)
            return _Moving(actor, archive, written).all()
    except (_Broken, zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError) as no:
        unlink_unused(written)
        raise Refusal(
            "That is no archive of a workspace, or not the whole of one. Choose the ZIP file as it was fetched.",
            "content",
        ) from no
    except IntegrityError as no:
        unlink_unused(written)
        raise Refusal(f"The archive contradicts itself ({no}). Fetch it anew.", "content") from None
    except Exception:
        unlink_unused(written)
        raise


def _manifest(archive: zipfile.ZipFile) -> _Manifest:
    """What an archive says of itself. Raises Refusal for another format or version."""
    if sum(i.file_size for i in archive.infolist()) > _UNFOLDED * settings.ARCHIVE_MOST:
        _no(f"The archive unfolds to more than {_UNFOLDED * settings.ARCHIVE_MOST / 1e9:g} GB.")
    with _opened(archive, forms.MANIFEST) as at:
        said = at.read(_MOST_LINE)
    try:
        given = _read(said)
    except (ValueError, RecursionError):
        raise _Broken from None
    if not isinstance(given, dict) or given.get("format") != forms.FORMAT:
        raise _Broken
    if given.get("version") != forms.VERSION:
        _no(f"The archive is of version {given.get('version')}; this application reads {forms.VERSION}.")
    try:
        manifest = _Manifest.model_validate(given)
    except PydanticError:
        raise _Broken from None
    here = forms.newest()
    if manifest.newest != here:
        others = sorted(a for a in {*here, *manifest.newest} if manifest.newest.get(a) != here.get(a))
        _no(
            "The archive is of another version of the application (its rows differ in: "
            f"{', '.join(others)}). Bring both to one version, and fetch it anew."
        )
    if set(manifest.files) != {forms.PEOPLE, *(k.name for k in forms.kept())}:
        raise _Broken
    return manifest


class _Moving:
    """One archive on its way in: what its numbers become."""

    def __init__(self, actor: Actor, archive: zipfile.ZipFile, written: set[str]) -> None:
        self.actor, self.archive, self.written = actor, archive, written
        self.manifest = _manifest(archive)
        self.names = uuid4()
        self.people: dict[int, Person] = {}
        self.counted: Counter[str] = Counter()
        self.sent: set[str] = set()
        # By kind of row, how far its numbers are moved, beyond all that were given here; and those that others may name.
        self.beyond = {k.label: _largest(k.model) for k in forms.kept()}
        self.there: dict[str, frozenset[int]] = {}

    def all(self) -> Brought:
        named = forms.refers_to()
        for kind in forms.kept():
            if kind.label in named:
                try:
                    self.there[kind.label] = frozenset(self._number(row.get("id")) for row in self._lines(kind.name))
                except ValueError:
                    raise _Broken from None
        came = self._people()
        pictures = self._pictures()
        for kind in forms.kept():
            for line, row in enumerate(self._lines(kind.name), 1):
                try:
                    self._keep(kind, row)
                except (ValidationError, ValueError, TypeError, OverflowError, RecursionError) as no:
                    why = "; ".join(no.messages) if isinstance(no, ValidationError) else str(no).splitlines()[0][:200]
                    _no(f"{kind.name}, line {line}: {why}. Nothing was kept.")
        _go_on_after([k.model for k in forms.kept()])
        workspace = self._workspace()
        return Brought(
            workspace.name,
            self.counted["rigs.Rig"],
            self.counted["rounds.Round"],
            self.counted["rounds.Reading"],
            pictures,
            came,
        )

    # -- its files ---------------------------------------------------------------------------------------

    def _lines(self, name: str) -> Iterator[forms.Row]:
        """The rows of a file. Raises _Broken where they are not those that were written."""
        said, mark, count = self.manifest.files[name], hashlib.sha256(), 0
        with _opened(self.archive, name) as at:
            while line := at.readline(_MOST_LINE):
                mark.update(line)
                count += 1
                try:
                    row = _read(line)
                except (ValueError, RecursionError):
                    raise _Broken from None
                if not isinstance(row, dict):
                    raise _Broken
                yield row
        if (count, mark.hexdigest()) != (said.rows, said.sha256):
            raise _Broken

    def _pictures(self) -> int:
        """The files of the pictures: each is what its name says, and a picture as they are kept here."""
        most, sum_ = settings.PICTURES_QUOTA, 0
        for info in self.archive.infolist():
            if not info.filename.startswith(forms.PICTURES):
                continue
            if info.file_size > files.MOST_BYTES:
                raise _Broken
            data = self.archive.read(info)
            sum_ += len(data)
            if sum_ > most:
                _no(f"The pictures fill more than the {most / 1e9:g} GB that a workspace may use here.")
            try:
                with Image.open(io.BytesIO(data), formats=("JPEG",)) as picture:
                    made = files.Made(data, picture.width, picture.height)
                    picture.verify()
            except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
                raise _Broken from None
            if info.filename != f"{forms.PICTURES}{made.name}.jpg":
                raise _Broken
            if not files.path_of(made.name).exists():
                self.written.add(made.name)
            files.write(made)
            self.sent.add(made.name)
        if self.sent != set(self.manifest.pictures):
            raise _Broken
        return len(self.sent)

    # -- its people --------------------------------------------------------------------------------------

    def _people(self) -> list[str]:
        """Everybody who is named in it, as somebody who cannot sign in; who brings it in is the one of their sign-in name."""
        came = []
        for row in self._lines(forms.PEOPLE):
            try:
                whom = _Whom.model_validate(row)
            except PydanticError:
                raise _Broken from None
            if whom.username == self.actor.person.username:
                self.people[whom.id] = self.actor.person
                continue
            person = Person(username=_free(whom.username), first_name=whom.name, units=whom.units)
            person.set_unusable_password()
            try:
                person.full_clean(exclude=["password"])
            except ValidationError as no:
                _no(f"{forms.PEOPLE}: {'; '.join(no.messages)}")
            person.save(force_insert=True)
            self.people[whom.id] = person
            came.append(person.shown_name)
        return came

    def _person(self, number: Any) -> int | None:
        if number is None:
            return None
        if (person := self.people.get(self._number(number))) is None:
            raise ValueError("it names somebody who is not in the archive")
        return person.pk

    # -- its rows ----------------------------------------------------------------------------------------

    def _keep(self, kind: forms.Kept, row: forms.Row) -> None:
        model = kind.model
        ties = {m.name: m for m in model._meta.local_many_to_many}
        columns = model._meta.concrete_fields
        if set(row) != {*ties, *(f.attname for f in columns)}:
            raise ValueError("its columns are others")
        kept = model(**{f.attname: self._value(kind, f, row[f.attname]) for f in columns})
        if not self._settled(kept):
            return
        kept.save_base(raw=True, force_insert=True)
        for name, m in ties.items():
            if row[name]:
                getattr(kept, name).add(*(self._tied(m.related_model, n) for n in row[name]))
        self.counted[kind.label] += 1

    def _settled(self, row: models.Model) -> bool:
        """What is otherwise here than there; gives whether the row is kept."""
        if isinstance(row, Membership):
            if row.person_id == self.actor.person.pk:
                return False
            # A manager lets them in, and gives them a way to a password.
            row.off_at = row.off_at or clock.now()
        elif isinstance(row, Receiver):
            # Its key stayed there: it is added anew.
            row.key_hash, row.ended_at = hash_of(new_key()), row.ended_at or clock.now()
        elif isinstance(row, RoundText):
            rounds.check(row)
        elif isinstance(row, GroundPlan):
            plans.text_of(row)
        return True

    def _value(self, kind: forms.Kept, f: Any, value: Any) -> Any:
        if f.is_relation:
            return self._tied(f.related_model, value, kind.is_history)
        if kind.is_history and f.name == "id":
            return self._tied(kind.model.instance_type, value, True)  # type: ignore[attr-defined]
        if isinstance(f, models.UUIDField):
            return None if value is None else uuid5(self.names, str(UUID(value)))
        if f.primary_key:
            return self._number(value) + self.beyond[kind.label]
        value = _typed(f, value)
        for way, of in forms.REFERS.get(kind.label, {}).get(f.name, {}).items():
            value = forms.put(value, way, partial(self._named, of))
        return value

    def _tied(self, to: type[models.Model], value: Any, may_be_gone: bool = False) -> Any:
        """What a column that names a row of `to` becomes. Histories may name what is gone: no row ever has that number."""
        if value is None:
            return None
        if to is Workspace:
            if value != self.manifest.workspace.get("id"):
                raise ValueError("it is of another workspace")
            return self.actor.workspace.pk
        if to is Person:
            return self._person(value)
        return self._moved(to._meta.label, self._number(value), may_be_gone)

    def _named(self, of: str, value: Any) -> Any:
        """What a number or a name in JSON becomes; 0 and null are nobody's."""
        if not value:
            return value
        if of == forms.UUID:
            return str(uuid5(self.names, str(UUID(value))))
        if of == forms.ORDER:
            return self._number(value) + self.beyond["rounds.Reading"]
        if of == Person._meta.label:
            return self._person(value)
        return self._moved(of, self._number(value), True)

    def _moved(self, label: str, number: int, may_be_gone: bool) -> int:
        moved = number + self.beyond[label]
        if number in self.there[label]:
            return moved
        if may_be_gone:
            return -moved
        raise ValueError(f"it names a row of {label} that is not in the archive")

    def _number(self, value: Any) -> int:
        if not isinstance(value, int) or isinstance(value, bool) or not 0 < value < _LARGEST:
            raise ValueError("a number of a row is none")
        return value

    def _workspace(self) -> Workspace:
        """The workspace is as the one that it was: its name, and how targets are chosen in it."""
        workspace, said = self.actor.workspace, self.manifest.workspace
        try:
            for f in Workspace._meta.concrete_fields:
                if f.attname not in _OWN:
                    setattr(workspace, f.attname, _typed(f, said[f.attname]))
        except (ValidationError, ValueError, TypeError, KeyError):
            raise _Broken from None
        workspace._change_reason = f"Brought in from an archive of {self.manifest.made_at[:19]}"  # type: ignore[attr-defined]
        workspace.save()
        return workspace


def _largest(model: type[models.Model]) -> int:
    """The largest number that a row of a kind has or had here."""
    if not isinstance(model._meta.pk, models.AutoField | models.BigAutoField):
        return 0
    found = [model._base_manager.aggregate(n=Max("pk"))["n"] or 0]
    with suppress(AttributeError):
        found.append(model.history.model._base_manager.aggregate(n=Max("id"))["n"] or 0)  # type: ignore[attr-defined]
    return max(found)


def _go_on_after(kinds: list[type[models.Model]]) -> None:
    """The next row of each kind gets a number beyond those that came in: not every engine looks at what is there."""
    with connection.cursor() as cursor:
        for statement in connection.ops.sequence_reset_sql(no_style(), kinds):
            cursor.execute(statement)


def _free(username: str) -> str:
    """A sign-in name that nobody has here."""
    number, free = 1, username
    while Person.objects.filter(username__iexact=free).exists():
        number += 1
        free = f"{username[:140]}-{number}"
    return free


def _typed(f: Any, value: Any) -> Any:
    """A value of a plain column, as it is kept. Raises ValidationError, ValueError."""
    if value is None:
        return None
    wanted = next((types for field, types in _TYPES if isinstance(f, field)), None)
    if wanted and (not isinstance(value, wanted) or (isinstance(value, bool) and bool not in wanted)):
        raise ValueError(f"{f.name} is of another kind")
    value = f.to_python(value)
    if isinstance(value, dt.datetime) and value.tzinfo is None:
        raise ValueError(f"{f.name} is a time without its offset")
    if value not in f.empty_values and not isinstance(f, models.JSONField | models.BinaryField):
        f.run_validators(value)
        f.validate(value, None)
    return value
