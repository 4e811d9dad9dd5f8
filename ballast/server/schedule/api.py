"""What is due, and who is told where."""

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router, Status

from ballast.server.accounts.actors import ActorRequest
from ballast.server.edge.problems import answers
from ballast.server.schedule import feeds, notices, services
from ballast.server.schedule.schemas import FeedIn, FeedMade, FeedOut, NoticeIn, NoticeOut, ScheduleIn, ScheduleOut

router = Router(tags=["schedule"])


@router.get("/schedule", response=answers(ScheduleOut))
def schedule(request: ActorRequest, of: Query[ScheduleIn]):
    """What is due, the first first."""
    return services.schedule(request.auth, of)


@router.get("/feeds", response=answers(list[FeedOut]))
def own_feeds(request: ActorRequest):
    return feeds.feeds(request.auth)


@router.post("/feeds", response=answers(FeedMade, 201))
def make_feed(request: ActorRequest, data: FeedIn):
    """A calendar's address, told this once."""
    return Status(201, feeds.make(request.auth, data))


@router.delete("/feeds/{feed_id}", response=answers(list[FeedOut]))
def take_feed_back(request: ActorRequest, feed_id: int):
    return feeds.take_back(request.auth, feed_id)


# A calendar signs in nowhere: the address itself is the key.
@router.get("/calendar/{key}.ics", auth=None, response=answers(str))
def calendar(request: HttpRequest, key: str):
    """What is due, as a calendar reads it."""
    return HttpResponse(feeds.calendar(key, request.get_host()), content_type="text/calendar; charset=utf-8")


@router.get("/notice", response=answers(NoticeOut))
def notice(request: ActorRequest):
    return notices.present(request.auth)


@router.put("/notice", response=answers(NoticeOut))
def keep_notice(request: ActorRequest, data: NoticeIn):
    """A line by mail at dawn, or none."""
    return notices.keep(request.auth, data)
