"""The tables at hand for a rig, and every axle as the rules take it."""

from collections.abc import Iterable
from dataclasses import dataclass, replace

from ballast.core import rigs as core_rigs
from ballast.core import targets as core
from ballast.core import weighing as core_weighing
from ballast.core.refusal import Refusal
from ballast.core.tables import standard_exponent
from ballast.core.working import Phrase
from ballast.server.accounts.actors import Actor
from ballast.server.rigs.models import Axle, Rig
from ballast.server.tables import services as tables
from ballast.server.tables.models import Table
from ballast.server.targets import lamp


@dataclass(frozen=True)
class Shelf:
    """The tables at hand for a rig: the one chosen for each axle, and the newest of every size."""

    chosen: list[Table | None]
    by_size: dict[str, list[Table]]

    def fitting(self, tire: core_rigs.Tire, row: core_rigs.Row) -> list[Table]:
        """The tables that fit a tire and have the row: the newest first, samples last."""
        fit = [t for t in self.by_size.get(tire.size.name, []) if fits(t, tire, row)]
        return sorted(fit, key=lambda t: (t.sample, -t.pk))

    def newest(self, tire: core_rigs.Tire, row: core_rigs.Row) -> Table | None:
        """The newest table that fits a tire; none where several fit that are not for the same tire, as its own marks do not
        say which it is."""
        fit = self.fitting(tire, row)
        own = [t for t in fit if t.sample == fit[0].sample]
        alike = all(not core_rigs.unlike(tables.tire_of(a), tables.tire_of(b)) for a in own for b in own)
        return own[0] if own and alike else None

    def newest_of(self, rig: core_rigs.Rig) -> list[Table | None]:
        """The newest table of each axle's tires."""
        return [self.newest(a.tire.kinds[0], a.row) if a.tire else None for a in rig.axles]

    def of(self, axle: core_rigs.Axle, kind: core_rigs.Tire) -> Table | None:
        """The table of one kind of tire on an axle: the chosen one where that fits, else the newest."""
        chosen = self.chosen[axle.number - 1] if self.chosen else None
        return chosen if chosen is not None and fits(chosen, kind, axle.row) else self.newest(kind, axle.row)

    def instead(self, old: Table, new: Table) -> "Shelf":
        """The shelf with a new edition in an old one's place."""
        return Shelf(
            [new if t is not None and t.pk == old.pk else t for t in self.chosen],
            {s: [new if t.pk == old.pk else t for t in own] for s, own in self.by_size.items()},
        )


def shelf_of(known: Iterable[Table]) -> Shelf:
    """Tables that no newer edition replaces, by size; none chosen."""
    by_size: dict[str, list[Table]] = {}
    for t in known:
        if not t.replaced:  # type: ignore[attr-defined]
            by_size.setdefault(t.size, []).append(t)
    return Shelf([], by_size)


def fits(table: Table, tire: core_rigs.Tire, row: core_rigs.Row) -> bool:
    """Whether a table is for a tire as it is fitted (size, load range and load index as far as known), and has the row."""
    return (bool(table.dual) or row == "single") and not core_rigs.unlike(tables.tire_of(table), tire)


def sizes_of(rig: Rig, typed: core_rigs.Rig) -> set[str]:
    """The sizes whose tables may have a part in a rig's targets: of its tires, and those that its placards are for."""
    return {k.size.name for a in typed.axles if a.tire for k in a.tire.kinds} | {
        core_rigs.as_marked(a.placard_size).name for a in rig.axles.all() if a.placard_size
    }


def choose_tables(actor: Actor, rig: Rig, typed: core_rigs.Rig, asked: list[int | None]) -> Shelf:
    """The table of each axle: the one asked for, else the newest of its tires. Raises Refusal for one that does not fit."""
    named = [t for t in asked if t is not None]
    by_id = {t.pk: t for t in tables.of_sizes(actor, sizes_of(rig, typed))}
    if any(pk not in by_id for pk in named):
        by_id |= {t.pk: t for t in tables.tables(actor).filter(pk__in=named)}
    shelf = shelf_of(by_id.values())
    chosen = shelf.newest_of(typed)
    if len(asked) > len(typed.axles):
        raise Refusal(f"{rig.name} has {len(typed.axles)} axles. Choose a table for each, no more.", "tables")
    for i, table_id in enumerate(asked):
        if table_id is None:
            continue
        table = by_id.get(table_id)
        if table is None:
            raise Refusal("There is no such table in this workspace. Choose one of its list.", f"tables.{i}")
        _must_fit(table, typed.axles[i], f"tables.{i}")
        chosen[i] = table
    return Shelf(chosen, shelf.by_size)


def _must_fit(table: Table, axle: core_rigs.Axle, field: str) -> None:
    """Raises Refusal for a table that is for none of an axle's tires, saying which it is for."""
    if axle.tire is None:
        return
    if axle.row == "dual" and not table.dual:
        raise Refusal("That table has no dual row, and this axle has duals. Choose another.", field)
    own = tables.tire_of(table)
    against = [core_rigs.unlike(own, kind) for kind in axle.tire.kinds]
    if all(against):
        reasons = "; ".join(
            dict.fromkeys(words.replace("described", "the tires are") for why in against for words in why)
        )
        raise Refusal(f"That table is for {own.called}: {reasons}. Choose one for {axle.tire.kinds[0].called}.", field)


def table_marks(actor: Actor, sizes: set[str]) -> Shelf:
    """The tables of some sizes as far as it takes to say which fit: their cells stay where they are."""
    known = tables.tables(actor).filter(size__in=sizes).select_related(None).defer("steps", "single")
    return shelf_of(known)


def _tire_case(
    kind: core_rigs.Tire, table: Table | None, axle: core_rigs.Axle, rig: Rig, several: bool
) -> core.TireCase:
    return core.TireCase(
        kind.called if several or kind.unlike else kind.size.name, tables.table_of(table) if table else None,
        core_rigs.load_divisor(kind.size.service, rig.kind), (replace(kind, mixed=()) if kind.mixed else kind).max_kg(axle.row, rig.kind),
        kind.sidewall_max_kpa, standard_exponent(kind.size.service),
    )  # fmt: skip


def _placard(
    row: Axle, axle: core_rigs.Axle, kind: core_rigs.Tire, first: core.TireCase, shelf: Shelf
) -> tuple[float | None, Phrase | None, Table | None]:
    """A placard for another tire than is fitted: what counts of it, in words, and the table that had a part."""
    assert axle.tire is not None
    if not row.placard_size and not kind.unlike:
        return None, None, None
    original = core_rigs.as_marked(row.placard_size) if row.placard_size else axle.tire.size
    of_original = (
        core_rigs.Tire(original, load_range=original.range) if row.placard_size else replace(axle.tire, mixed=())
    )
    table = shelf.newest(of_original, axle.row)
    named = (original.name, kind.size.name) if original.name != kind.size.name else (of_original.called, kind.called)
    kpa, words = core.placard_carried(
        row.placard_kpa, *named, (tables.table_of(table) if table else None, first.table), axle.row
    )  # fmt: skip
    return kpa, words, table


def cases_of(
    rig: Rig,
    typed: core_rigs.Rig,
    loads: core_weighing.RigLoad | None,
    shelf: Shelf,
    chalk: dict[int, float],
    light_row: bool = False,
) -> tuple[list[core.AxleCase], list[Table]]:
    """Every axle as the rules take it, and the tables that have a part in it.

    `light_row`: the load state goes by the placard's row for a light load.
    """
    # Over as a whole it is over on each axle of which nothing else is known.
    whole = [c for c in loads.checks if c.over and c.what in ("gvwr", "group")] if loads else []
    cases: list[core.AxleCase] = []
    used: dict[int, Table] = {}
    for i, row in enumerate(rig.axles.all()):
        axle = typed.axles[i]
        load = loads.axles[i] if loads else None
        tire = axle.tire
        assert tire is not None  # every stored axle has a size
        own = [shelf.of(axle, kind) for kind in tire.kinds]
        kinds = [
            _tire_case(k, t, axle, rig, len(tire.kinds) > 1) for k, t in zip(tire.kinds, own, strict=True)
        ]  # fmt: skip
        first = kinds[0]
        placard_floor, placard_words, placard_table = _placard(row, axle, tire.kinds[0], first, shelf)
        speeds: list[float] = [core_rigs.SPEEDS[k.size.speed] for k in tire.kinds if k.size.speed]
        speeds += [t.speed_kmh for t in own if t is not None and t.speed_kmh is not None]
        cases.append(
            core.AxleCase(
                number=axle.number,
                name=typed.axle_name(axle.number),
                row=axle.row,
                tires_per_end=axle.tires_per_end,
                per_tire_kg=load.per_tire_kg if load else None,
                assumed=bool(load and load.assumed),
                table=first.table,
                load_divisor=first.load_divisor,
                tire_max_kg=first.tire_max_kg,
                sidewall_max_kpa=first.sidewall_max_kpa,
                wheel_max_kpa=tire.wheel_max_kpa,
                placard_kpa=row.placard_kpa,
                placard_is_floor=typed.light,
                over=(
                    *(c for c in (load.checks if load else ()) if c.over),
                    *(
                        c
                        for c in whole
                        if load and load.per_tire_kg is None and axle.number in (c.axles or (axle.number,))
                    ),
                ),
                size=first.name,
                exponent=first.exponent,
                others=tuple(kinds[1:]),
                placard_light_kpa=row.placard_light_kpa,
                placard_floor_kpa=placard_floor,
                placard_words=placard_words,
                chalk_kpa=chalk.get(axle.number),
                lamp_kpa=lamp.lights_kpa(typed, axle, row),
                speed_kmh=typed.top_speed_kmh,
                holds_kmh=min(speeds) if speeds else None,
                unlike=typed.unlike_on(axle),
                one_wheel=axle.wheels == 1,
                gawr_kg=axle.gawr_kg,
                light_row=light_row,
                gvwr_known=typed.gvwr_kg is not None,
            )
        )
        used |= {t.pk: t for t in (*own, placard_table) if t is not None}
    return cases, list(used.values())
