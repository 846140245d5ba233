"""Browser tests, run as they are asked for: ``python -m e2e.worker MODULE …``"""

from __future__ import annotations

import sys

from jugserver.config.tests import worker


def _begin() -> None:
    from jugserver.config.tests.served import Served

    served = Served(mode="test", wait=False)  # it starts while the rest is imported
    from e2e.running import running

    running(served)


def _end() -> None:
    from e2e.running import stop

    stop()


if __name__ == "__main__":
    worker.serve(sys.argv[1:], _begin, _end)
