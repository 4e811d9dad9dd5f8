"""The examples in the core's docstrings show the law, and hold."""

import doctest
import importlib
import pkgutil

import pytest

import ballast.core

MODULES = sorted(m.name for m in pkgutil.walk_packages(ballast.core.__path__, "ballast.core."))


@pytest.mark.parametrize("name", MODULES)
def test_what_the_docstrings_show_is_so(name: str) -> None:
    found = doctest.testmod(importlib.import_module(name))
    assert found.failed == 0


def test_there_are_examples_where_they_show_the_law() -> None:
    finder = doctest.DocTestFinder(exclude_empty=True)
    shown = sum(bool(t.examples) for name in MODULES for t in finder.find(importlib.import_module(name)))
    assert shown >= 12
