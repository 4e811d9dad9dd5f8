"""Routes that are found by the first word of an address are those that Django finds."""

import re
from uuid import UUID

import pytest
from django.urls import Resolver404, URLResolver
from django.urls.resolvers import RoutePattern

from ballast.server.edge.routes import ByFirstWord
from ballast.server.urls import urlpatterns

_SAMPLES = {"int": "7", "uuid": str(UUID(int=7)), "": "word", "str": "word", "slug": "a-word"}


def test_each_address_leads_where_it_would_anyway() -> None:
    ours = urlpatterns[0]
    assert isinstance(ours, ByFirstWord)
    routes = ours.url_patterns
    plain = URLResolver(RoutePattern("api/v1/"), routes, app_name=ours.app_name, namespace=ours.namespace)
    addresses = {
        "api/v1/" + re.sub(r"<(?:(\w+):)?\w+>", lambda m: _SAMPLES[m[1] or ""], str(route.pattern)) for route in routes
    }
    assert len(addresses) > 250
    for address in addresses:
        one, other = ours.resolve(address), plain.resolve(address)
        assert one is not None
        assert other is not None
        assert (one.func, one.kwargs, one.view_name) == (other.func, other.kwargs, other.view_name)


@pytest.mark.parametrize("address", ["api/v1/rigsx", "api/v1/rigs/7/nothing", "api/v1/nothing", "api/v2/rigs"])
def test_no_other_address_leads_anywhere(address: str) -> None:
    with pytest.raises(Resolver404):
        urlpatterns[0].resolve(address)
