"""The alarms of a rig on paper and as rows: what to type into a receiver, and what it then hides."""

from ballast.core.working import aimed, say
from ballast.server.accounts.actors import Actor
from ballast.server.edge.document import Document
from ballast.server.edge.files import csv_in_units
from ballast.server.rigs import services as rigs
from ballast.server.sensors import services

_COLUMNS = (
    "axle", "target_kpa", "low_kpa", "very_low_kpa", "low_clears_kpa", "high_kpa", "heat_c", "receiver_low_kpa",
    "receiver_high_kpa", "hides",
)  # fmt: skip


def alarms_csv(actor: Actor, rig_id: int) -> str:
    """A row an axle, in canonical units and in the reader's. Raises DoesNotExist."""
    system = actor.person.units
    rows = []
    for a in services.present(actor, rig_id).axles:
        raw = a.receiver
        rows.append(
            {
                "axle": a.name, "target_kpa": a.target_kpa, "low_kpa": a.low_kpa, "very_low_kpa": a.very_low_kpa,
                "low_clears_kpa": a.low_clears_kpa, "high_kpa": a.high_kpa, "heat_c": raw.heat_c if raw else None,
                "receiver_low_kpa": raw.low_kpa if raw else None, "receiver_high_kpa": raw.high_kpa if raw else None,
                "hides": " ".join(h.show(system) for h in raw.hides) if raw else "",
            }
        )  # fmt: skip
    return csv_in_units(_COLUMNS, rows, system)


def alarms_pdf(actor: Actor, rig_id: int) -> bytes:
    """One sheet to keep with the receiver. Raises DoesNotExist."""
    rig, told = rigs.rig(actor, rig_id), services.present(actor, rig_id)
    paper = Document(f"Alarms of {rig.shown_name}", actor.person.units)
    paper.text(paper.title, 15, bold=True)
    paper.text("From the targets in force. A receiver that compares raw numbers takes the last two columns.")
    for note in told.notes:
        paper.text(paper.said(note), tone="rust")
    heads = ("Axle", "Target, cold", "Low", "Very low", "Clears", "High, hot", "Receiver low", "Receiver high")
    rows = []
    for a in told.axles:
        raw = a.receiver
        target = None if a.target_kpa is None else aimed(a.target_kpa, a.ceiling_kpa)
        told_at = [
            target,
            *(limit.at for limit in a.limits),
            *((limit.at for limit in raw.limits) if raw else (None, None)),
        ]
        cells = [paper.line("–" if at is None else paper.said(say("{0}", at)), 9, right=True) for at in told_at]
        rows.append([paper.line(a.name, 9, bold=True), *cells])
    paper.table(heads, (0.16, *[0.12] * 7), rows, figures=range(1, 8))
    paper.gap()
    for a in told.axles:
        for words in a.receiver.hides if a.receiver else ():
            paper.text(f"{a.name}: {paper.said(words)}", 8)
        for words in (*a.lamp, *((a.lamp_lit,) if a.lamp_lit else ())):
            paper.text(f"{a.name}: {paper.said(words)}", 8)
    return paper.built()
