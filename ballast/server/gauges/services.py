from dataclasses import replace
from typing import Any

from django.db import transaction
from django.db.models import QuerySet

from ballast.core import gauges as core
from ballast.core.gas import SEA_LEVEL_KPA
from ballast.core.refusal import Refusal
from ballast.core.working import day
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.days import latest_day
from ballast.server.edge.files import csv_in_units
from ballast.server.edge.problems import Conflict
from ballast.server.edge.ready import Ready, hang
from ballast.server.edge.versions import must_match, version_of
from ballast.server.edge.words import kept
from ballast.server.gauges import radio
from ballast.server.gauges.labels import must_be_free
from ballast.server.gauges.models import Beside, Calibration, Gauge
from ballast.server.gauges.schemas import (
    BenchIn,
    BenchOut,
    BesideIn,
    BesideOut,
    BesideReadingOut,
    CalibrationIn,
    CorrectionOut,
    GaugeIn,
    GaugeOut,
    GaugeSheetOut,
    PairsIn,
    SuspectIn,
)

_KEPT = (
    "label", "kind", "dual_foot", "sealed", "battery", "keeper", "every_days", "radio", "retired",
)  # fmt: skip


def _drawer(actor: Actor) -> QuerySet[Gauge]:
    actor.must(May.READ)
    return Gauge.objects.of(actor.workspace).prefetch_related("calibrations__entered_by")


_GAUGES = Ready[Gauge](lambda workspace: Gauge.objects.of(workspace))
_COMPARED = Ready[Calibration](lambda gauges: Calibration.objects.filter(gauge__in=gauges).select_related("entered_by"))


def gauges(actor: Actor) -> list[Gauge]:
    actor.must(May.READ)
    return compared(_GAUGES(actor.workspace.pk))


def compared(rows: list[Gauge]) -> list[Gauge]:
    """Gauges that were read by their statement, with how they were compared."""
    hang(rows, "calibrations", _COMPARED(list({r.pk for r in rows})), "gauge")
    return rows


def gauge(actor: Actor, gauge_id: int) -> Gauge:
    """One gauge of the workspace. Raises DoesNotExist for any other."""
    return _drawer(actor).get(pk=gauge_id)


def ours(actor: Actor, gauge_id: int, field: str) -> Gauge:
    """A gauge that a body names. Raises Refusal where this workspace has none such."""
    try:
        return gauge(actor, gauge_id)
    except Gauge.DoesNotExist:
        raise Refusal("There is no such gauge in this workspace. Choose one of the drawer.", field) from None


def usable(actor: Actor, gauge_id: int, field: str = "gauge") -> Gauge:
    """A gauge to read with. Raises Refusal for one that is not there, is retired, or logs nothing until compared.

    Displays and sensors back a gauge up; none of them is the gauge in hand.
    """
    row = ours(actor, gauge_id, field)
    if why_not := _why_not(row):
        raise Refusal(why_not, field)
    return row


def all_usable(actor: Actor) -> list[Gauge]:
    """Every gauge to read with."""
    return [row for row in gauges(actor) if not _why_not(row)]


def _why_not(row: Gauge) -> str:
    """Why a gauge is not read with; empty: it may be."""
    if row.retired:
        return "That gauge is retired. Choose another."
    if row.kind in core.FITTED:
        return f"{row.label} backs a gauge up and does not stand for one. Take a gauge."
    if row.suspicion == "differs":
        return (
            f"{row.label} differs from another gauge by 4 psi or more. Compare it with a master first, or take another."
        )
    return ""


def latest(row: Gauge) -> Calibration | None:
    """The comparison in use: the newest."""
    return next(iter(row.calibrations.all()), None)


def gauge_of(row: Gauge, compared: Calibration | None = None) -> core.Gauge:
    """The rules' view of a gauge with its newest comparison, or with another."""
    compared = compared or latest(row)
    pairs = compared.pairs if compared else ()
    return core.Gauge(
        row.kind,
        row.low_kpa,
        row.high_kpa,
        row.resolution_kpa,
        tuple(core.Pair(p["reference_kpa"], p["reading_kpa"], p["direction"]) for p in pairs),
        compared.master_u_kpa if compared else None,
        row.dual_foot,
        SEA_LEVEL_KPA if row.sealed else None,
        core.least_kpa(row.kind, in_doubt(row), compared is not None and not compared.master, found_out(row).apart_kpa),
    )


def found_out(row: Gauge) -> core.FoundOut:
    """What its rounds found, where that is why a gauge is suspect."""
    if row.suspicion != "rounds" or row.found_kpa is None or row.found_within_kpa is None:
        return core.UNKNOWN
    return core.FoundOut(row.found_kpa, row.found_within_kpa, True)


def _days_since(compared: Calibration | None) -> int | None:
    return (clock.today() - compared.compared_on).days if compared else None


def in_doubt(row: Gauge) -> bool:
    """Dropped, over-pressed, apart from another or from all its fellows, or overdue: no surer than one of its kind that was never compared."""
    days = _days_since(latest(row))
    return bool(row.suspicion) or (days is not None and days > row.every_days)


def condition(row: Gauge) -> Any:
    """What must be said of a gauge before it is believed; None: nothing."""
    return core.condition(
        gauge_of(row), _days_since(latest(row)), row.suspicion, row.every_days, found_out(row).error_kpa
    )


def state_of(row: Gauge) -> dict[str, object]:
    """All that a gauge's form shows and writes."""
    return {f: getattr(row, f) for f in (*_KEPT, "low_kpa", "high_kpa", "resolution_kpa", "claimed_kpa")}


@transaction.atomic
def save_gauge(actor: Actor, data: GaugeIn, gauge_id: int | None = None) -> Gauge:
    """Adds or changes a gauge. Raises Conflict for a label that is taken, Refusal for an empty range."""
    actor.must(May.GAUGES)
    row = Gauge(workspace=actor.workspace) if gauge_id is None else gauge(actor, gauge_id)
    must_be_free(Gauge.objects.of(actor.workspace).exclude(pk=row.pk), data.label, "a gauge")
    if data.high_kpa.value <= data.low_kpa.value:
        raise Refusal("The range ends below where it begins. Check both.", "high_kpa")
    if not 0 < data.resolution_kpa.value <= (data.high_kpa.value - data.low_kpa.value) / 5:
        raise Refusal(
            "The resolution is the smallest step it shows, above zero and small in its range.", "resolution_kpa"
        )
    stored = state_of(row)
    for name in _KEPT:
        setattr(row, name, getattr(data, name))
    row.low_kpa, row.high_kpa, row.resolution_kpa = (
        data.low_kpa.value, data.high_kpa.value, data.resolution_kpa.value,
    )  # fmt: skip
    row.claimed_kpa = data.claimed_kpa.value if data.claimed_kpa else None
    if row.pk:
        must_match(data.version, stored, state_of(row), actor.person.units)
    row.save()
    return gauge(actor, row.pk)


@transaction.atomic
def suspect(actor: Actor, gauge_id: int, data: SuspectIn) -> Gauge:
    """Notes a drop or an over-pressure, or takes it back. What gauges showed is not taken back: compare it."""
    actor.must(May.GAUGES)
    row = gauge(actor, gauge_id)
    measured = row.suspicion != "" and row.suspicion not in core.NOTED
    if measured and not data.suspicion:
        other = "another gauge" if row.suspicion == "differs" else "its fellows, by its rounds"
        raise Conflict(f"{row.label} differed from {other}. Compare it with a master.", "suspicion")
    # What was measured stays why, for a note might be taken back again.
    if not measured:
        row.suspicion = data.suspicion
    if data.suspicion:
        row.doubted_at = clock.now()
    else:
        # What befell it before it was last trusted is not taken back.
        trusted = row.history.filter(suspicion="").order_by("-history_date", "-history_id").first()
        row.doubted_at = trusted.doubted_at if trusted else None
    row.save()
    return gauge(actor, gauge_id)


def find_out(row: Gauge, of: core.FoundOut) -> None:
    """Its rounds found a gauge out: suspect until it is compared. What two gauges on one tire showed bars it, and stays why."""
    if row.suspicion in ("differs", "rounds") or of.error_kpa is None:
        return
    row.suspicion, row.doubted_at = "rounds", clock.now()
    row.found_kpa, row.found_within_kpa = of.error_kpa, of.within_kpa
    # Nobody did it: who happened to seal the round that showed it is not named for it.
    row._history_user = None  # type: ignore[attr-defined]
    row.save()


def _master(actor: Actor, row: Gauge, data: PairsIn) -> tuple[str, float | None]:
    """What a gauge is compared with (a gauge of the drawer, a certificate, else nothing to call a master), and its standard
    uncertainty [kPa]: of the drawer's the worse of its own and what was typed."""
    typed = data.master_u_kpa.value if data.master_u_kpa else None
    named = _drawer(actor).exclude(pk=row.pk).filter(label__iexact=data.reference.strip()).first()
    if named is not None:
        held = gauge_of(named)
        within = [p.reference.value for p in data.pairs if held.low_kpa <= p.reference.value <= held.high_kpa]
        own = max((core.correct(held, p).uncertainty_kpa / 2 for p in within), default=core.NO_MASTER_KPA / 2)
        return "drawer", max(own, typed or 0.0)
    return ("certificate" if data.certificate else ""), typed


def _compared(actor: Actor, row: Gauge, data: PairsIn) -> tuple[core.Gauge, str]:
    """The gauge as pairs as typed would have it, and what it was compared with. Raises Refusal for pairs that cannot be."""
    pairs = tuple(core.Pair(p.reference.value, p.reading.value, p.direction) for p in data.pairs)
    typed = gauge_of(row)
    core.check_pairs(typed, pairs)
    master, u = _master(actor, row, data)
    least = core.least_kpa(row.kind, False, not master)
    return replace(typed, pairs=pairs, master_u_kpa=u, least_kpa=least), master


@transaction.atomic
def compare(actor: Actor, gauge_id: int, data: CalibrationIn) -> Gauge:
    """Records a comparison with a master; what made it suspect before is settled by it.

    Raises Refusal for pairs that do not rise, lie outside the gauge's range, or a date ahead.
    """
    actor.must(May.GAUGES)
    row = gauge(actor, gauge_id)
    if data.compared_on > latest_day():
        raise Refusal("The date lies in the future. Check it.", "compared_on")
    if data.certificate_until is not None and data.certificate_until < data.compared_on:
        raise Refusal("The master's certificate had run out by then. Compare with a valid one.", "certificate_until")
    typed, master = _compared(actor, row, data)
    Calibration.objects.create(
        gauge=row,
        compared_on=data.compared_on,
        reference=data.reference,
        master=master,
        certificate=data.certificate,
        certificate_until=data.certificate_until,
        note=data.note,
        master_u_kpa=typed.master_u_kpa,
        pairs=[
            {
                "reference_kpa": p.reference.value,
                "reading_kpa": p.reading.value,
                "reference_typed": p.reference.typed,
                "reading_typed": p.reading.typed,
                "direction": p.direction,
            }
            for p in data.pairs
        ],
        entered_by=actor.person,
    )
    if row.suspicion:
        row.suspicion, row.found_kpa, row.found_within_kpa = "", None, None
        row.save()
    return gauge(actor, gauge_id)


def work_curve(actor: Actor, gauge_id: int, data: PairsIn) -> CorrectionOut:
    """The curve that pairs as typed would give. Nothing is saved."""
    row = gauge(actor, gauge_id)
    typed, master = _compared(actor, row, data)
    return _curve_out(typed, row.claimed_kpa, master)


def _curve_out(typed: core.Gauge, claimed: float | None, master: str) -> CorrectionOut:
    return CorrectionOut.model_validate(
        {
            "curve": core.correction(typed),
            "lag_kpa": core.lag(typed),
            "remarks": core.remarks(typed, claimed, not master),
            "master": master,
        }
    )


def _beside(actor: Actor, data: BesideIn) -> tuple[core.Beside, list[BesideReadingOut]]:
    drawer = {g.pk: g for g in gauges(actor)}
    lines, read = [], {}
    for i, given in enumerate(data.readings):
        row = drawer.get(given.gauge)
        if row is None:
            raise Refusal("There is no such gauge in this workspace. Choose one of the drawer.", f"readings.{i}.gauge")
        if row.label in read:
            raise Refusal("Each gauge once: this one is there already.", f"readings.{i}.gauge")
        try:
            true = core.correct(gauge_of(row), given.pressure.value)
        except Refusal as no:
            raise no.within(f"readings.{i}") from None
        read[row.label] = true
        lines.append(
            BesideReadingOut(
                gauge=row.pk, label=row.label, typed=given.pressure.typed, raw_kpa=given.pressure.value,
                corrected_kpa=true.kpa, uncertainty_kpa=true.uncertainty_kpa,
            )
        )  # fmt: skip
    return core.beside(read), lines


def work_beside(actor: Actor, data: BesideIn) -> BesideOut:
    """What gauges on one tire say of each other, as typed. Nothing is saved."""
    agreement, lines = _beside(actor, data)
    return _beside_out(agreement, lines)


def _beside_out(agreement: core.Beside, lines: list[BesideReadingOut], row: Beside | None = None) -> BesideOut:
    """What gauges say of each other; of a kept one, by whom and when."""
    kept = {"id": row.pk, "done_at": row.done_at, "by": row.done_by.shown_name} if row else {}
    return BesideOut.model_validate(vars(agreement) | {"readings": lines} | kept)


@transaction.atomic
def record_beside(actor: Actor, data: BesideIn) -> BesideOut:
    """Keeps it; gauges that are too far apart log nothing until compared with a master."""
    actor.must(May.GAUGES)
    agreement, lines = _beside(actor, data)
    row = Beside.objects.create(
        workspace=actor.workspace,
        readings=[vars(line) for line in lines],
        verdict=agreement.verdict,
        words=kept(agreement.words),
        done_at=clock.now(),
        done_by=actor.person,
    )
    for barred in Gauge.objects.of(actor.workspace).filter(label__in=agreement.barred):
        barred.suspicion = "differs"
        barred.doubted_at = clock.now()
        barred.save()
    return _beside_out(agreement, lines, row)


def besides(actor: Actor) -> list[BesideOut]:
    """What was compared side by side, newest first."""
    actor.must(May.READ)
    return [BesideOut.model_validate(beside) for beside in [
        {
            "id": b.pk, "verdict": b.verdict, "words": b.words, "readings": b.readings, "working": [], "barred": [],
            "done_at": b.done_at, "by": b.done_by.shown_name,
        }
        for b in Beside.objects.of(actor.workspace).select_related("done_by")[:30]
    ]]  # fmt: skip


def devices(actor: Actor) -> list[radio.Device]:
    actor.must(May.READ)
    # In practice a gauge shows what is true there, and no device of anywhere else is heard.
    return [] if actor.practices else radio.link().devices()


def bench(actor: Actor, gauge_id: int, data: BenchIn) -> BenchOut:
    """The bench brought to a pressure: its master beside the gauge on it. Raises Refusal for a gauge without a radio."""
    actor.must(May.GAUGES)
    row = gauge(actor, gauge_id)
    try:
        master, shown = radio.link().hold(row.radio, data.set_kpa.value, data.way, clock.now())
    except KeyError:
        raise Refusal(f"{row.label} is not heard on the bench. Type what both show.", "gauge") from None
    return BenchOut.model_validate({"master": master, "gauge": shown})


def present(row: Gauge) -> GaugeOut:
    compared = latest(row)
    said = condition(row)
    typed = gauge_of(row)
    middle = (
        sum(p.reading_kpa for p in typed.pairs) / len(typed.pairs) if typed.pairs else (row.low_kpa + row.high_kpa) / 2
    )
    fields = (*_KEPT, "id", "low_kpa", "high_kpa", "resolution_kpa", "claimed_kpa", "suspicion")
    return GaugeOut.model_validate(
        {f: getattr(row, f) for f in fields}
        | {
            "version": version_of(state_of(row)),
            "kind_name": core.KIND_NAMES[row.kind],
            "in_hand": row.kind not in core.FITTED,
            "learns": row.kind in core.LEARNING,
            "condition": said,
            "worth": core.worth_comparing(gauge_of(row)),
            "suspect": said is not None,
            "noted": row.suspicion in core.NOTED,
            "compared_on": compared.compared_on if compared else None,
            "due_on": core.due_on(compared.compared_on, row.every_days) if compared else None,
            "uncertainty_kpa": core.correct(typed, min(max(middle, row.low_kpa), row.high_kpa)).uncertainty_kpa,
        }
    )


def sheet(row: Gauge) -> GaugeSheetOut:
    """A gauge with every comparison, its curve and its drift, and what was changed when."""
    rows = list(row.calibrations.all())
    comparisons = []
    for i, c in enumerate(rows):
        typed = gauge_of(row, c)
        older = gauge_of(row, rows[i + 1]) if i + 1 < len(rows) else None
        fields = (
            "id", "compared_on", "reference", "certificate", "certificate_until", "note", "master_u_kpa",
        )  # fmt: skip
        comparisons.append(
            {f: getattr(c, f) for f in fields}
            | {
                "by": c.entered_by.shown_name,
                "pairs": [
                    {"reference_kpa": p.reference_kpa, "reading_kpa": p.reading_kpa, "direction": p.direction}
                    for p in typed.pairs
                ],
                "drift_kpa": core.drift(older, typed) if older else None,
            }
            | vars(_curve_out(typed, row.claimed_kpa, c.master))
        )
    return GaugeSheetOut.model_validate(vars(present(row)) | {"calibrations": comparisons, "changes": _changes(row)})


_SUSPICION_WORDS = {
    "drop": "noted a drop",
    "over-pressure": "noted an over-pressure",
    "differs": "it differed from another gauge",
    "rounds": "its rounds found it out",
}


def _changes(row: Gauge) -> list[str]:
    """What was done to a gauge, newest first, from its history."""
    lines = []
    entries = list(row.history.select_related("history_user").order_by("-history_date", "-history_id")[:40])
    for now, before in zip(entries, [*entries[1:], None], strict=True):
        who = now.history_user.shown_name if now.history_user else "The workspace"
        on = day(now.history_date)
        if before is None:
            if len(entries) < 40:
                lines.append(f"{on}: {who} put it into the drawer.")
            continue
        if now.suspicion != before.suspicion:
            what = _SUSPICION_WORDS.get(now.suspicion, "it is trusted again")
            lines.append(f"{on}: {who}: {what}.")
        elif now.retired != before.retired:
            lines.append(f"{on}: {who} {'retired it' if now.retired else 'took it back into use'}.")
        elif now.battery != before.battery:
            lines.append(f"{on}: {who}: battery {now.battery or 'taken out'}.")
        else:
            lines.append(f"{on}: {who} changed its particulars.")
    return lines


_COLUMNS = (
    "gauge", "kind", "keeper", "compared_on", "reference", "certificate", "certificate_until", "by", "master_u_kpa",
    "direction", "reference_kpa", "reading_kpa", "error_kpa", "reference_typed", "reading_typed",
)  # fmt: skip


def export(actor: Actor) -> str:
    """Every comparison of every gauge as CSV (RFC 4180, UTF-8), a line for each pair, canonical units and the person's own."""
    pairs = [_pair(g, c, p) for g in gauges(actor) for c in g.calibrations.all() for p in c.pairs]
    return csv_in_units(_COLUMNS, pairs, actor.person.units)


def _pair(row: Gauge, c: Calibration, p: dict[str, Any]) -> dict[str, object]:
    return {
        "gauge": row.label, "kind": row.kind, "keeper": row.keeper, "compared_on": c.compared_on, "reference": c.reference,
        "certificate": c.certificate, "certificate_until": c.certificate_until, "by": c.entered_by.shown_name,
        "master_u_kpa": None if c.master_u_kpa is None else f"{c.master_u_kpa:.3f}",
        "direction": p["direction"], "reference_kpa": float(p["reference_kpa"]), "reading_kpa": float(p["reading_kpa"]),
        "error_kpa": float(p["reading_kpa"] - p["reference_kpa"]), "reference_typed": p["reference_typed"],
        "reading_typed": p["reading_typed"],
    }  # fmt: skip
