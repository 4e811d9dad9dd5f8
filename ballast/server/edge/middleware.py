"""What is turned away before any view: bodies too large, or of another type."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse, JsonResponse

LARGEST_BODY = 1_048_576


class ApiBodies:
    """413 above one megabyte, 415 for anything but JSON, on the API's writing calls."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.path.startswith("/api/") and request.method in ("POST", "PUT", "PATCH", "DELETE"):
            length = int(request.META.get("CONTENT_LENGTH") or 0)
            if length > LARGEST_BODY:
                message = f"The body has {length:,} bytes, the most is {LARGEST_BODY:,}. Send less at once."
                return JsonResponse({"message": message, "fields": []}, status=413)
            kind = request.headers.get("Content-Type", "").split(";")[0].strip().lower()
            if length and kind != "application/json":
                message = f"“{kind[:60] or 'no type'}” is not understood here. Send application/json."
                return JsonResponse({"message": message, "fields": []}, status=415)
        return self.get_response(request)
