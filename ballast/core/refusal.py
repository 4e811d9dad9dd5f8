"""The one way in which the rules say no."""


class Refusal(ValueError):
    """An input that cannot be used.

    `message` says what is wrong, the bound, and what to do. `field` is the path of the
    input inside the value that was checked ("steps.3", "" when it is the whole).
    """

    def __init__(self, message: str, field: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.field = field

    def within(self, prefix: str) -> "Refusal":
        """The same refusal, seen from one level further out."""
        return Refusal(self.message, f"{prefix}.{self.field}" if self.field else prefix)


class Refusals(ValueError):
    """Several refusals of one input, so that all are told at once."""

    def __init__(self, each: list[Refusal]) -> None:
        super().__init__("; ".join(no.message for no in each))
        self.each = each
