"""Refusals on the wire: one shape, plain words, the field named."""

from http.client import responses
from typing import Any

from django.core.exceptions import ObjectDoesNotExist
from django.db import OperationalError
from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, Throttled, ValidationError
from ninja.openapi.schema import REF_TEMPLATE, OpenAPISchema
from pydantic import ValidationError as PydanticError

from ballast.core.refusal import Refusal, Refusals
from ballast.server.edge.parsing import Unreadable
from ballast.server.edge.schema import Out


class FieldProblem(Out):
    field: str
    message: str


class Problem(Out):
    """`message` is the whole in a sentence; `fields` stand beside the fields they name."""

    message: str
    fields: list[FieldProblem] = []
    # Of what was changed meanwhile: the version that is stored. Sent with it, the same body is saved over it.
    version: str = ""


class Denied(Exception):
    """The person may not do this here (403)."""


class Unavailable(Exception):
    """Something outside does not answer (503). What it gives can be entered by hand."""


class Conflict(Exception):
    """It contradicts what is stored already (409)."""

    def __init__(self, message: str, field: str = "") -> None:
        super().__init__(message)
        self.message, self.field = message, field


class Stale(Exception):
    """Somebody changed it since the person saw it (409). Nothing is overwritten until they have seen both."""

    def __init__(self, version: str, fields: list[FieldProblem]) -> None:
        super().__init__("Somebody changed this meanwhile. Both values are shown: look, and save again.")
        self.version, self.fields = version, fields


PROBLEM_CODES = frozenset({400, 401, 403, 404, 409, 413, 415, 422, 429, 503, 507})
# What is tried again after this many seconds, most likely goes through.
RETRY_S = 5


# How the engines name what keeps them from storing: somebody else's lock, a full disk, one that cannot be written to.
_BUSY = ("SQLITE_BUSY", "SQLITE_LOCKED", "55P03", "40001", "40P01")
_FULL = ("SQLITE_FULL", "53100")
_CLOSED = ("SQLITE_READONLY", "SQLITE_IOERR", "SQLITE_CANTOPEN", "25006", "58030")


def storage(error: BaseException) -> tuple[int, str] | None:
    """The status and the words of a database that cannot write, or be read, for now; None: it is something else."""
    cause = error.__cause__
    name = str(getattr(cause, "sqlite_errorname", None) or getattr(cause, "sqlstate", None) or "")
    if name.startswith(_BUSY):
        return 503, "Somebody else is writing something long. Nothing of this was stored: try again in a few seconds."
    if name.startswith(_FULL):
        return 507, "The server's disk is full. Nothing of this was stored: make room there, and send it again."
    if name.startswith(_CLOSED):
        return (
            503,
            "The server cannot write to its disk. Nothing of this was stored: look at the disk, and send it again.",
        )
    return None


def answers(schema: Any, code: int = 200) -> dict[int, Any]:
    """What an operation answers, if not with a problem."""
    return {code: schema}


class Api(NinjaAPI):
    """An API each of whose operations may answer with a problem.

    That is said in its description alone: said with each operation, it were a model for each code of each, four thousand of them.
    """

    def get_openapi_schema(self, **of: Any) -> OpenAPISchema:
        said = super().get_openapi_schema(**of)
        problem = Problem.model_json_schema(ref_template=REF_TEMPLATE)
        said["components"]["schemas"] |= problem.pop("$defs") | {Problem.__name__: problem}
        answer = {"application/json": {"schema": {"$ref": REF_TEMPLATE.format(model=Problem.__name__)}}}
        for path in said["paths"].values():
            for call in path.values():
                call["responses"] |= {c: {"description": responses[c], "content": answer} for c in PROBLEM_CODES}
        return said


# Pydantic's reasons in our words.
_REASONS = {
    "missing": "This is needed.",
    "string_too_short": "Enter at least {min_length} character(s).",
    "string_too_long": "At most {max_length} characters. Shorten it.",
    "string_type": "Enter text here.",
    "list_type": "A list is needed here.",
    "bool_parsing": "Answer yes or no.",
    "bool_type": "Answer yes or no.",
    "too_long": "At most {max_length} entries.",
    "too_short": "At least {min_length} entry is needed.",
    "literal_error": "Choose one of {expected}.",
    "date_from_datetime_parsing": "Enter a date as year-month-day, for example 2026-05-14.",
    "date_parsing": "Enter a date as year-month-day, for example 2026-05-14.",
    "uuid_parsing": "This is not a UUID.",
    "extra_forbidden": "There is no such field. Leave it out.",
}
_WRAPPERS = frozenset({"body", "query", "path", "data"})


def field_problem(error: dict[str, Any]) -> FieldProblem:
    loc = list(error["loc"])
    while loc and loc[0] in _WRAPPERS:
        loc.pop(0)
    reason = _REASONS.get(error["type"])
    message = reason.format(**error.get("ctx", {})) if reason else error["msg"]
    return FieldProblem(field=".".join(str(part) for part in loc), message=message)


def told(error: Exception) -> list[FieldProblem]:
    """What a refusal says, field by field: of the rules, of what is stored, or of the shape of a body."""
    if isinstance(error, Refusals):
        return [FieldProblem(field=no.field, message=no.message) for no in error.each]
    if isinstance(error, PydanticError):
        return [field_problem(dict(e)) for e in error.errors()]
    return [FieldProblem(field=getattr(error, "field", ""), message=getattr(error, "message", str(error)))]


# What a body of a file may be turned away with.
REFUSED = (Refusal, Refusals, Conflict, PydanticError)


def _reply(api: NinjaAPI, request: HttpRequest, status: int, message: str, field: str = "") -> HttpResponse:
    fields = [FieldProblem(field=field, message=message)] if field else []
    return api.create_response(request, Problem(message=message, fields=fields).model_dump(), status=status)


def _several(api: NinjaAPI, request: HttpRequest, problems: list[FieldProblem]) -> HttpResponse:
    # One thing at a time beside a field: the first.
    fields = list({f.field: f for f in reversed(problems)}.values())[::-1]
    message = "One entry cannot be used." if len(fields) == 1 else f"{len(fields)} entries cannot be used."
    return api.create_response(request, Problem(message=message, fields=fields).model_dump(), status=422)


def install(api: NinjaAPI) -> None:
    """Gives an API the handlers that turn every kind of no into a Problem."""
    _no_of_ours(api)
    _no_of_others(api)


def _no_of_ours(api: NinjaAPI) -> None:
    """What the rules and the services refuse."""

    @api.exception_handler(ValidationError)
    def invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
        return _several(api, request, [field_problem(e) for e in error.errors])

    @api.exception_handler(Refusals)
    def refused_together(request: HttpRequest, no: Refusals) -> HttpResponse:
        return _several(api, request, [FieldProblem(field=n.field, message=n.message) for n in no.each])

    @api.exception_handler(Refusal)
    def refused(request: HttpRequest, no: Refusal) -> HttpResponse:
        return _reply(api, request, 422, no.message, no.field)

    @api.exception_handler(Conflict)
    def conflict(request: HttpRequest, no: Conflict) -> HttpResponse:
        return _reply(api, request, 409, no.message, no.field)

    @api.exception_handler(Stale)
    def stale(request: HttpRequest, no: Stale) -> HttpResponse:
        problem = Problem(message=str(no), fields=no.fields, version=no.version)
        return api.create_response(request, problem.model_dump(), status=409)

    @api.exception_handler(Denied)
    def denied(request: HttpRequest, no: Denied) -> HttpResponse:
        return _reply(api, request, 403, str(no))

    @api.exception_handler(Unavailable)
    def unavailable(request: HttpRequest, no: Unavailable) -> HttpResponse:
        return _reply(api, request, 503, str(no))


def _no_of_others(api: NinjaAPI) -> None:
    """What the database, the framework and the sign-in refuse."""

    @api.exception_handler(OperationalError)
    def not_stored(request: HttpRequest, error: OperationalError) -> HttpResponse:
        trouble = storage(error)
        if trouble is None:
            raise error
        answer = _reply(api, request, *trouble)
        answer["Retry-After"] = str(RETRY_S)
        return answer

    @api.exception_handler(AuthenticationError)
    def signed_out(request: HttpRequest, no: AuthenticationError) -> HttpResponse:
        return _reply(api, request, 401, "You are not signed in, or the sign-in has expired. Sign in again.")

    @api.exception_handler(OverflowError)  # a number in the path that no row can have
    @api.exception_handler(Http404)
    @api.exception_handler(ObjectDoesNotExist)
    def absent(request: HttpRequest, no: Exception) -> HttpResponse:
        return _reply(api, request, 404, "There is no such thing in this workspace.")

    @api.exception_handler(Throttled)
    def throttled(request: HttpRequest, no: Throttled) -> HttpResponse:
        return _reply(api, request, 429, "Too many tries. Wait a few minutes.")

    @api.exception_handler(HttpError)
    def http(request: HttpRequest, no: HttpError) -> HttpResponse:
        # The framework wraps what the parser says; our words are the cause.
        message = str(no.__cause__) if isinstance(no.__cause__, Unreadable) else no.message
        return _reply(api, request, no.status_code, message)
