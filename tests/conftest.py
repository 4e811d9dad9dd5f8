"""What holds for every test."""

from hypothesis import settings

# No test passes or fails by the clock: a busy machine is no bug.
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")
