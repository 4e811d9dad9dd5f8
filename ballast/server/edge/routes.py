"""Routes found by the first word of an address: of three hundred only those that begin alike are looked at."""

from collections.abc import Sequence
from functools import cached_property
from typing import Any

from django.urls import URLPattern, URLResolver
from django.urls.resolvers import ResolverMatch, RoutePattern


class ByFirstWord(URLResolver):
    """Routes under an address, none of which begins with a word that stands for others; what is found is what Django would find."""

    def __init__(
        self, under: str, routes: Sequence[URLPattern | URLResolver], app: str | None, name: str | None
    ) -> None:
        super().__init__(RoutePattern(under), routes, app_name=app, namespace=name)
        self._routes = routes

    @cached_property
    def _alike(self) -> dict[str, URLResolver]:
        words: dict[str, list[URLPattern | URLResolver]] = {}
        for route in self._routes:
            words.setdefault(_first(str(route.pattern)), []).append(route)
        return {
            word: URLResolver(self.pattern, own, app_name=self.app_name, namespace=self.namespace)
            for word, own in words.items()
        }

    def resolve(self, path: str) -> ResolverMatch:
        match: Any = self.pattern.match(str(path))
        alike = self._alike.get(_first(match[0])) if match else None
        return alike.resolve(path) if alike else super().resolve(path)


def _first(address: str) -> str:
    return address.partition("/")[0]
