"""Tests with Django, run as they are asked for: ``python -m jugserver.config.tests.worker MODULE …``

Django's own runner prepares the process; the database is a clone of the migrated one.
"""

from __future__ import annotations

import contextlib
import sys
import unittest
from collections.abc import Callable

import django

from jugtool.testing import worker


def serve(modules: list[str], begin: Callable[[], None] = lambda: None, end: Callable[[], None] = lambda: None) -> None:
    """``begin`` and ``end``: what else the tests need in this process, once for all of them."""
    django.setup()
    from django.test.runner import DiscoverRunner

    from jugserver.config.tests.databases import take_clone

    runner = DiscoverRunner(interactive=False, verbosity=0)

    def prepare(labels: list[str]) -> list[unittest.TestCase]:
        runner.setup_test_environment()
        take_clone()
        begin()
        return list(worker.flat(runner.build_suite(labels)))

    try:
        with contextlib.suppress(KeyboardInterrupt):
            worker.serve(prepare, modules)
    finally:
        end()
        with contextlib.suppress(AttributeError):  # it ended before anything was set up
            runner.teardown_test_environment()


if __name__ == "__main__":
    serve(sys.argv[1:])
