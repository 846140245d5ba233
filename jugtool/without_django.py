"""Runs the core's tests on the plain runner, in a process where Django cannot be imported."""

from __future__ import annotations

import sys
import unittest
import warnings


class _Forbidden:
    """An import finder that refuses the server's side."""

    refused = ("django", "ninja", "jugserver", "psycopg")

    def find_spec(self, name: str, path: object = None, target: object = None) -> None:
        if name.split(".")[0] in self.refused:
            raise ImportError(f"{name} must not be imported by the core")


def main(labels: list[str]) -> int:
    sys.meta_path.insert(0, _Forbidden())
    warnings.simplefilter("error")
    loader = unittest.TestLoader()
    found = loader.loadTestsFromNames(labels) if labels else loader.discover("jugcore/tests", top_level_dir=".")
    result = unittest.TextTestRunner(verbosity=1).run(found)
    loaded = sorted(name for name in sys.modules if name.split(".")[0] in _Forbidden.refused)
    assert not loaded, loaded
    return 0 if result.wasSuccessful() and result.testsRun else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
