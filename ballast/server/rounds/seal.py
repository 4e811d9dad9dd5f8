"""Sealing: what may be sealed the core says; what was read is frozen, and goes into the ledger."""

from dataclasses import replace

from django.db import transaction
from django.dispatch import Signal

from ballast.core import ground
from ballast.core import rounds as core
from ballast.core.refusal import Refusal
from ballast.server.accounts.actors import Actor, May
from ballast.server.edge import clock
from ballast.server.edge.problems import Conflict
from ballast.server.ground import plans
from ballast.server.rigs import services as rigs
from ballast.server.rounds import ledger, stored, value
from ballast.server.rounds.models import Round
from ballast.server.rounds.services import round_

# Sent in the transaction of a seal, with its `round`: rooms above do what follows from it.
sealed = Signal()


@transaction.atomic
def seal(
    actor: Actor, round_id: int, unread_reason: str, signed: str = "", without_target: bool = False
) -> Round:  # fmt: skip
    """Seals a round; sealing twice is as once.

    Raises Conflict for wheels not read without a reason, of their own or for all, where two readings did not know of
    each other, and where a wheel that was read has no target number and that is not said.
    """
    actor.must(May.ROUNDS)
    row = round_(actor, round_id)
    if row.sealed_at is not None:
        return row
    now = value.of(row)
    try:
        core.must_be_sealable(now.wheels, unread_reason)
        row.without_target = core.without_target(now.wheels, without_target)
    except Refusal as no:
        raise Conflict(no.message, no.field) from None
    row.sealed_at, row.sealed_by, row.unread_reason, row.signed = clock.now(), actor.person, unread_reason, signed
    now = replace(
        now, sealed_at=row.sealed_at, sealed_by=actor.person.shown_name, unread_reason=unread_reason, signed=signed,
        without_target=row.without_target,
    )  # fmt: skip
    row.text.result = stored.keep_round(now)
    row.text.save()
    row.summary = now.in_short
    row.last_words = stored.keep_words(
        core.last_words(now.wheels, {line.code: line.tire for line in stored.lines(row)})
    )
    row.save()
    if row.odometer_km is not None:
        rigs.seen_at(row.rig, row.odometer_km, row.opened_at.date())
    ledger.write(row, now.wheels)
    if row.ground_plan_id is not None:
        _close_plan(actor, row, now)
    sealed.send(Round, round=row)
    return row


def _close_plan(actor: Actor, row: Round, sealed: core.Round) -> None:
    """A cold round at road numbers closes the ground plan that was open; why another does not is kept with the plan."""
    assert row.ground_plan is not None
    codes = plans.codes(row.ground_plan)
    checked = [
        ground.Checked(
            codes[w.rig, w.own], w.before is not None, not w.stands.estimate,
            w.stands.word in core.AT_TARGET,
        )
        for w in sealed.wheels
        if (w.rig, w.own) in codes
    ]  # fmt: skip
    plans.close(actor, row.ground_plan_id, not row.plan_kept, checked, row.pk)  # type: ignore[arg-type]
