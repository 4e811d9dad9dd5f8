"""While driving: `numbers` (what a sensor says, and what it comes to cold), `thresholds` (from the targets), `alarms` (states
with their history), `drives` (what a receiver sends), `columns` (numbers out of a file), `evidence` (what a number is worth beside
rounds), `lamp` (the vehicle's own), `guide` (it came on), `motion` (how a rolling tire warms, for stand-ins and practice only).
"""

from ballast.core.sensors.alarms import (
    Alarm,
    Filled,
    Fold,
    Grade,
    Told,
    fold,
    loud_words,
    state_words,
    told_words,
    why_apart,
    word_of,
)
from ballast.core.sensors.drives import (
    Drive,
    Group,
    Message,
    OnDrive,
    Said,
    follow,
    fresh_of,
    is_late,
    missing,
    on_drive,
    rise,
)
from ballast.core.sensors.drives import (
    words as drive_words,
)
from ballast.core.sensors.evidence import (
    Glimpse,
    Loss,
    Offset,
    Served,
    Trend,
    beside,
    glimpse,
    loss,
    offset,
    pairs,
    trend,
)
from ballast.core.sensors.guide import (
    AFTER,
    ALIKE,
    LIGHTS,
    LOOKED,
    NOTES,
    OLD_AIR,
    OUTCOMES,
    STOOD,
    UNREAD,
    WAYS,
    After,
    Answers,
    Fact,
    GuideWay,
    Light,
    Named,
    Outcome,
    Read,
    Seen,
    Step,
    StepKey,
    Stood,
    end_words,
    facts,
    guide,
    lacks,
    named,
)
from ballast.core.sensors.lamp import (
    Lit,
    Recorded,
    battery_words,
    lamp_ahead,
    lamp_seen,
    moved_words,
    recorded,
    threshold_words,
)
from ballast.core.sensors.motion import Moving, Rolling, roll
from ballast.core.sensors.numbers import (
    HEARD_MIN,
    KINDS,
    LATELY,
    OLD,
    Kind,
    Lately,
    Sample,
    air_then,
    cold_equivalent,
    hears,
    is_cold,
    is_old,
    sampled,
    since_words,
)
from ballast.core.sensors.thresholds import (
    LOW_SHARE,
    LOW_SHARES,
    Aim,
    Receiver,
    Thresholds,
    check_low_share,
    for_receiver,
    thresholds,
)

__all__ = [
    "AFTER", "ALIKE", "HEARD_MIN", "KINDS", "LATELY", "LIGHTS", "LOOKED", "LOW_SHARE", "LOW_SHARES", "NOTES", "OLD", "OLD_AIR",
    "OUTCOMES", "STOOD", "UNREAD", "WAYS", "After", "Aim", "Alarm", "Answers", "Drive", "Fact",
    "Filled", "Fold", "Glimpse", "Grade", "Group", "GuideWay", "Kind", "Lately", "Light", "Lit", "Loss", "Message", "Moving",
    "Named", "Offset", "OnDrive", "Outcome", "Read", "Receiver", "Recorded", "Rolling", "Said",
    "Sample", "Seen", "Served", "Step", "StepKey", "Stood", "Thresholds", "Told", "Trend", "air_then", "battery_words",
    "beside", "check_low_share", "cold_equivalent", "drive_words", "end_words", "facts", "fold", "follow",
    "for_receiver", "fresh_of", "glimpse", "guide", "hears", "is_cold", "is_late", "is_old", "lacks",
    "lamp_ahead", "lamp_seen", "loss", "loud_words", "missing", "moved_words", "named", "offset", "on_drive", "pairs", "recorded",
    "rise", "roll", "sampled", "since_words", "state_words", "threshold_words", "thresholds", "told_words", "trend", "why_apart",
    "word_of",
]  # fmt: skip
