"""The core's tests where Django cannot be imported: for the workers of ./jug test, and by hand on the plain runner,
``python -m jugtool.without_django [test …]``."""

from __future__ import annotations

import sys
import unittest
import warnings

_REFUSED = ("django", "ninja", "jugserver", "psycopg")


class _Forbidden:
    """An import finder that refuses the server's side."""

    def find_spec(self, name: str, path: object = None, target: object = None) -> None:
        if name.split(".")[0] in _REFUSED:
            raise ImportError(f"{name} must not be imported by the core")


def forbid() -> None:
    sys.meta_path.insert(0, _Forbidden())


def complaint() -> str:
    """What of the server's side is loaded all the same; nothing where nothing is."""
    loaded = sorted(name for name in sys.modules if name.split(".")[0] in _REFUSED)
    return f"The core's process holds {', '.join(loaded)}." if loaded else ""


def main(labels: list[str]) -> int:
    forbid()
    warnings.simplefilter("error")
    loader = unittest.TestLoader()
    found = loader.loadTestsFromNames(labels) if labels else loader.discover("jugcore/tests", top_level_dir=".")
    result = unittest.TextTestRunner(verbosity=1).run(found)
    if complaint():
        print(complaint(), file=sys.stderr)
    return 0 if result.wasSuccessful() and result.testsRun and not complaint() else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
