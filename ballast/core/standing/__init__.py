"""What there is to say of a rig: `assigned` (rounds that were given to somebody), `due` (check, weighing), `laid_up` (its dues rest), `facts` (what is asked of it), `matters` (urgency, words), `schedule` (all dates), `stages`
(the work line), `fits` (are its targets out of date, and why).
"""

from ballast.core.standing.assigned import covers, day_words, overdue, when
from ballast.core.standing.due import (
    CHECK_CHOICES_DAYS,
    ROUND_EVERY_DAYS,
    WEIGH_AGAIN_SHARE,
    WEIGH_EVERY_DAYS,
    Dated,
    Due,
    NextCheck,
    added_share,
    ago,
    before_trip,
    next_check,
    round_due,
    sooner,
    weighing_due,
    weighing_words,
)
from ballast.core.standing.facts import AirAhead, AxleAim, Facts, LastRound, Leaking, Ticket
from ballast.core.standing.fits import CHOICES, Since, out_of_date
from ballast.core.standing.laid_up import LaidUp, check_laid_up
from ballast.core.standing.matters import (
    ABOUT,
    ANEW,
    RANK,
    About,
    Matter,
    State,
    changes_on,
    matters,
    out_of_service,
    urgency,
)
from ballast.core.standing.schedule import DUE_KINDS, DueKind, DueOn, dues
from ballast.core.standing.stages import Stage, stages

__all__ = [
    "ABOUT",
    "ANEW",
    "CHECK_CHOICES_DAYS",
    "CHOICES",
    "DUE_KINDS",
    "RANK",
    "ROUND_EVERY_DAYS",
    "WEIGH_AGAIN_SHARE",
    "WEIGH_EVERY_DAYS",
    "About",
    "AirAhead",
    "AxleAim",
    "Dated",
    "Due",
    "DueKind",
    "DueOn",
    "Facts",
    "LaidUp",
    "LastRound",
    "Leaking",
    "Matter",
    "NextCheck",
    "Since",
    "Stage",
    "State",
    "Ticket",
    "added_share",
    "ago",
    "before_trip",
    "changes_on",
    "check_laid_up",
    "covers",
    "day_words",
    "dues",
    "matters",
    "next_check",
    "out_of_date",
    "out_of_service",
    "overdue",
    "round_due",
    "sooner",
    "stages",
    "urgency",
    "weighing_due",
    "weighing_words",
    "when",
]  # fmt: skip
