"""The page itself, and plain answers where there is none. No debug page in any mode but development."""

import math
import sys
from datetime import timedelta
from functools import cache
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe

from ballast.server.edge.problems import RETRY_S, storage


@cache
def _index() -> str | None:
    built = settings.WEB_DIST / "index.html"
    return built.read_text(encoding="utf-8") if built.exists() else None


@require_safe
@never_cache
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The application's one page; the router in it does the rest."""
    html = _index()
    if html is None:
        return HttpResponse("The front end is not built yet: run `make build`.", status=503, content_type="text/plain")
    return HttpResponse(html)


def _plain(request: HttpRequest, status: int, message: str) -> HttpResponse:
    if request.path.startswith("/api/"):
        return JsonResponse({"message": message, "fields": []}, status=status)
    return HttpResponse(message, status=status, content_type="text/plain; charset=utf-8")


def absent_api(request: HttpRequest) -> HttpResponse:
    return _plain(request, 404, "There is no such call.")


def bad_request(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return _plain(request, 400, "This request cannot be understood.")


def forbidden(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return _plain(request, 403, "This is not allowed.")


def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return _plain(request, 404, "There is nothing here.")


def broken(request: HttpRequest) -> HttpResponse:
    """What went wrong outside of the API's own handlers, as with a session that cannot be kept; else an honest 500."""
    error = sys.exc_info()[1]
    if error is not None and (trouble := storage(error)):
        answer = _plain(request, *trouble)
        answer["Retry-After"] = str(RETRY_S)
        return answer
    return _plain(request, 500, "Something broke on the server. What you entered is still in your browser: try again.")


def locked_out(request: HttpRequest, *_: Any, **__: Any) -> JsonResponse:
    """The sign-in throttle's answer."""
    waits = math.ceil(getattr(request, "ballast_waits", timedelta()).total_seconds())
    spoken = f"{waits} seconds" if waits < 100 else f"{math.ceil(waits / 60)} minutes"
    message = f"Too many wrong tries. Wait {spoken}, then try again."
    problem = {"message": message, "fields": [{"field": "password", "message": message}]}
    return JsonResponse(problem, status=429, headers={"Retry-After": str(waits)})


def csrf_failed(request: HttpRequest, reason: str = "") -> JsonResponse:
    message = "The page is too old to be trusted. Reload it and try again."
    return JsonResponse({"message": message, "fields": []}, status=403)
