from ballast.server.edge.schema import Out


class HoldsOut(Out):
    """What an archive of the workspace holds by now; `pictures_size` in bytes. `empty`: one can be brought in."""

    rigs: int
    rounds: int
    readings: int
    pictures: int
    pictures_size: int
    empty: bool


class BroughtOut(Out):
    """What came in, and the people who may not come in before a manager lets them."""

    workspace: str
    rigs: int
    rounds: int
    readings: int
    pictures: int
    people: list[str]
