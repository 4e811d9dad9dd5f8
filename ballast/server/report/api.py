"""A fleet's month: on the screen, as rows, and on paper."""

from ninja import Query, Router

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.files import attachment, csv_text
from ballast.server.edge.problems import answers
from ballast.server.report import paper, services
from ballast.server.report.schemas import MonthIn, ReportOut

router = Router(tags=["report"])


@router.get("/report", response=answers(ReportOut))
def report(request: ActorRequest, of: Query[MonthIn]):
    """Rounds done and missed, tires out of bounds, leaks found and mended, air added, weighings due, gauges."""
    return services.report(request.auth, of)


@router.get("/report.csv", response=answers(str))
def report_csv(request: ActorRequest, of: Query[MonthIn]):
    """The same, a row a rig."""
    made = services.report(request.auth, of)
    return attachment(csv_text(services.COLUMNS, services.rows(made)), f"tires-{made.month}.csv", "text/csv")


@router.get("/report.pdf", response=answers(str))
def report_pdf(request: ActorRequest, of: Query[MonthIn]):
    """The same on paper, drawn."""
    made = services.report(request.auth, of)
    content = paper.pdf(made, request.auth.person.units)
    return attachment(content, f"tires-{made.month}.pdf", "application/pdf")
