"""The surfaces of a workspace: its own rows, or those that ship."""

from django.db import transaction

from ballast.core import ground as core
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge.ready import Ready
from ballast.server.edge.versions import must_match, version_of
from ballast.server.edge.words import slug
from ballast.server.ground.models import Surface
from ballast.server.ground.schemas import SurfaceIn, SurfaceOut, SurfacesIn, SurfacesOut

_ROWS = Ready[Surface](lambda workspace: Surface.objects.of(workspace))


def of(actor: Actor) -> tuple[core.Surface, ...]:
    """The surfaces in use, hardest first."""
    actor.must(May.READ)
    rows = _ROWS(actor.workspace.pk)
    return tuple(_value(r) for r in rows) or core.SHIPPED


def _value(row: Surface) -> core.Surface:
    return core.Surface(
        row.key, row.name, core.ByRole(row.share_steered, row.share_driven, row.share_trailer),
        core.ByRole(row.floor_steered_kpa, row.floor_driven_kpa, row.floor_trailer_kpa), row.speed_kmh, row.recovery,
        row.pattern,  # type: ignore[arg-type]
    )  # fmt: skip


def _typed(given: SurfaceIn, key: str) -> core.Surface:
    shares, floors = given.shares, given.floors_kpa
    return core.Surface(
        key, given.name, core.ByRole(shares.steered, shares.driven, shares.trailer),
        core.ByRole(floors.steered.value, floors.driven.value, floors.trailer.value),
        given.speed_kmh.value if given.speed_kmh else None, given.recovery, given.pattern,
    )  # fmt: skip


def _state(surfaces: tuple[core.Surface, ...]) -> dict[str, object]:
    return {"surfaces": [repr(s) for s in surfaces]}


def present(actor: Actor) -> SurfacesOut:
    rows = of(actor)
    return SurfacesOut(
        surfaces=[SurfaceOut.model_validate(s) for s in rows], version=version_of(_state(rows)),
        shipped=rows == core.SHIPPED, practice=core.PRACTICE,
    )  # fmt: skip


@transaction.atomic
def keep(actor: Actor, data: SurfacesIn) -> SurfacesOut:
    """Keeps all rows anew; none goes back to those that ship. Raises Refusal below the hard floors, Stale."""
    actor.must(May.TARGETS)
    taken: list[str] = []
    for i, given in enumerate(data.surfaces):
        key = given.key or slug(given.name).lower()[:24]
        if key in taken:
            raise Refusal(f"{given.name} stands there twice. Name each once.", f"surfaces.{i}.name")
        taken.append(key)
    wanted = tuple(_typed(s, key) for s, key in zip(data.surfaces, taken, strict=True))
    if wanted:
        core.check_surfaces(wanted)
    must_match(data.version, _state(of(actor)), _state(wanted or core.SHIPPED), actor.person.units)
    Surface.objects.of(actor.workspace).delete()
    if wanted == core.SHIPPED:
        return present(actor)
    for place, s in enumerate(wanted):
        Surface.objects.create(
            workspace=actor.workspace, place=place, key=s.key, name=s.name, share_steered=s.shares.steered,
            share_driven=s.shares.driven, share_trailer=s.shares.trailer, floor_steered_kpa=s.floors_kpa.steered,
            floor_driven_kpa=s.floors_kpa.driven, floor_trailer_kpa=s.floors_kpa.trailer, speed_kmh=s.speed_kmh,
            recovery=s.recovery, pattern=s.pattern,
        )  # fmt: skip
    return present(actor)
