"""What is turned away before any view: bodies too large, or of another type, and more writers than can wait."""

import threading
from collections.abc import Callable

from csp.constants import HEADER
from csp.utils import build_policy
from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse

from ballast.server.edge.writing import at_work, no_workspace

LARGEST_BODY = 1_048_576
# The one call that takes a large file; it is read as it comes, a piece at a time.
_FILES = {"/api/v1/archive": "application/zip"}

_WRITES = ("POST", "PUT", "PATCH", "DELETE")


class Turns:
    """Who is at work and who waits: few of a process's threads work at once, so that whoever writes is done soon.

    A writing call for which there is no place to wait in is 503 with Retry-After.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response
        self.places = threading.BoundedSemaphore(settings.WRITERS)
        self.hands = threading.BoundedSemaphore(settings.HANDS)

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.method not in _WRITES or not request.path.startswith("/api/"):
            return self._at_work(request)
        if request.path not in _FILES:
            # Out in the field a body is long in coming: nobody's hand waits for it.
            request.body  # noqa: B018
        if request.path.startswith("/api/v1/work/"):
            return self._at_work(request)
        if not self.places.acquire(blocking=False):
            message = "Many are writing at this moment. Nothing of this was stored: try again in a few seconds."
            return JsonResponse({"message": message, "fields": []}, status=503, headers={"Retry-After": "2"})
        try:
            return self._at_work(request)
        finally:
            self.places.release()

    def _at_work(self, request: HttpRequest) -> HttpResponse:
        with no_workspace(), at_work(self.hands):
            return self.get_response(request)


class Policy:
    """What a page may load and run, said with every answer; nothing in it hangs on who asks or for what."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response
        self.words = build_policy()

    def __call__(self, request: HttpRequest) -> HttpResponse:
        answer = self.get_response(request)
        answer.headers.setdefault(HEADER, self.words)
        return answer


class Private:
    """What the API answers is one person's: no proxy and no disk keeps it, but where an answer says otherwise of itself."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        answer = self.get_response(request)
        if request.path.startswith("/api/"):
            answer.headers.setdefault("Cache-Control", "no-store")
        return answer


class ApiBodies:
    """413 above one megabyte, 415 for anything but JSON, on the API's writing calls; but for an archive."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.path.startswith("/api/") and request.method in _WRITES:
            length = int(request.META.get("CONTENT_LENGTH") or 0)
            kind = request.headers.get("Content-Type", "").split(";")[0].strip().lower()
            is_file = kind == _FILES.get(request.path)
            most = settings.ARCHIVE_MOST if is_file else LARGEST_BODY
            if length > most:
                message = f"The body has {length:,} bytes, the most is {most:,}. Send less at once."
                return JsonResponse({"message": message, "fields": []}, status=413)
            if length and kind != "application/json" and not is_file:
                message = f"“{kind[:60] or 'no type'}” is not understood here. Send application/json."
                return JsonResponse({"message": message, "fields": []}, status=415)
        return self.get_response(request)
