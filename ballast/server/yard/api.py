from ninja import Query, Router, Status

from ballast.server.accounts.actors import ActorRequest, May
from ballast.server.card.schemas import Paper
from ballast.server.edge.files import attachment, csv_streamed
from ballast.server.edge.problems import answers
from ballast.server.edge.quantities import Find
from ballast.server.edge.words import slug
from ballast.server.rounds import equipment
from ballast.server.rounds.schemas import EquipmentOut
from ballast.server.yard import day, deeds, morning, printed, services, views
from ballast.server.yard.schemas import (
    AirTodayOut,
    BoardOut,
    DawnOut,
    DawnsIn,
    DayOut,
    DeedsOut,
    FoundOut,
    MorningIn,
    MorningOut,
    SheetOut,
    ViewIn,
    ViewOut,
    YardIn,
    YardOut,
)

router = Router(tags=["yard"])


@router.get("/yard", response=answers(YardOut))
def yard(request: ActorRequest, of: Query[YardIn]):
    return services.yard(request.auth, of)


@router.get("/yard/all", response=answers(list[int]))
def all_that_fit(request: ActorRequest, of: Query[YardIn]):
    """The rigs that fit, all of them."""
    return services.chosen(request.auth, of)


@router.get("/yard/rigs.csv", response=answers(str))
def export_yard(request: ActorRequest, of: Query[YardIn]):
    """All that fit, as CSV, sent row by row."""
    request.auth.must(May.READ)
    return csv_streamed(services.CSV_COLUMNS, services.export(request.auth, of), "yard.csv")


def _pdf(made: tuple[str, bytes], what: str):
    title, document = made
    return attachment(document, f"{slug(title)}-{what}.pdf", "application/pdf")


@router.get("/yard/cards.pdf", response=answers(str))
def pressure_cards_of_many(request: ActorRequest, rigs: Query[list[int]], paper_size: Paper = "a5"):
    """Pressure cards of up to fifty rigs, a page each, in the person's units."""

    def address(rig: int) -> str:
        return request.build_absolute_uri(f"/rigs/{rig}/rounds")

    return _pdf(printed.pressure_cards(request.auth, rigs, paper_size, address), "pressure-cards")


@router.get("/yard/sheets.pdf", response=answers(str))
def blank_sheets_of_many(request: ActorRequest, rigs: Query[list[int]]):
    """Blank sheets of the rounds of up to fifty rigs, in the person's units."""
    return _pdf(printed.blank_sheets(request.auth, rigs), "rounds")


@router.get("/views", response=answers(list[ViewOut]))
def own_views(request: ActorRequest):
    return views.views(request.auth)


@router.post("/views", response=answers(list[ViewOut], 201))
def keep_view(request: ActorRequest, data: ViewIn):
    """What is looked for in the Yard, under a name."""
    return Status(201, views.keep(request.auth, data))


@router.delete("/views/{view_id}", response=answers(list[ViewOut]))
def forget_view(request: ActorRequest, view_id: int):
    return views.forget(request.auth, view_id)


@router.get("/finder", response=answers(list[FoundOut]))
def finder(request: ActorRequest, find: Find = ""):
    return services.finder(request.auth, find)


@router.get("/rigs/{rig_id}/equipment", response=answers(EquipmentOut))
def rig_equipment(request: ActorRequest, rig_id: int):
    """The right gauge for each axle and spare, and what each inflator makes of what the rig needs now."""
    return equipment.for_rig(request.auth, rig_id, lambda: morning.of_tires(request.auth, rig_id))


@router.get("/morning", response=answers(MorningOut))
def this_morning(request: ActorRequest, of: Query[MorningIn]):
    """What every tire reads this morning, by prediction, and which want air: a page of the rigs, the most urgent first."""
    return morning.morning(request.auth, of)


@router.get("/morning/air", response=answers(AirTodayOut))
def air_today(request: ActorRequest):
    """Of how many rigs a tire wants air today, by prediction, and how many a dawn ahead asks for a round."""
    return morning.air_today(request.auth)


@router.get("/morning/dawns", response=answers(list[DawnOut]))
def dawns(request: ActorRequest, of: Query[DawnsIn]):
    """Which of some rigs a dawn before their next check asks for a round at once."""
    return [DawnOut(rig=pk, words=words) for pk, words in morning.by_dawn(request.auth, of=of.rigs).items()]


@router.get("/rigs/{rig_id}/morning", response=answers(MorningOut))
def morning_of_rig(request: ActorRequest, rig_id: int):
    """The same of one rig and what it tows."""
    return morning.morning_of(request.auth, rig_id)


@router.get("/day", response=answers(DayOut))
def own_day(request: ActorRequest):
    """What whoever asks has to do, the first first."""
    return day.day(request.auth)


@router.get("/day/everybody", response=answers(BoardOut))
def board(request: ActorRequest, who: Find = ""):
    """Who has which rounds to do."""
    return day.board(request.auth, who)


@router.get("/people/{member_id}/deeds", response=answers(DeedsOut))
def what_somebody_did(request: ActorRequest, member_id: int, past: str = ""):
    """The newest first; `past`: where a page begins, as the one before it gave it (`next`)."""
    return deeds.deeds(request.auth, member_id, past)


@router.get("/yard/{rig_id}", response=answers(SheetOut))
def sheet(request: ActorRequest, rig_id: int):
    return services.sheet(request.auth, rig_id)
