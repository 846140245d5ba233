"""Browser tests, run as they are asked for: ``python -m e2e.worker MODULE …``"""

from __future__ import annotations

import sys

from jugserver.config.tests import worker
from jugserver.config.tests.databases import clone_name
from jugserver.config.tests.served import Served


def main() -> None:
    served = Served(mode="test", wait=False, database=clone_name())  # it starts while Django is set up here, and goes to no database yet

    def begin() -> None:
        from e2e.running import running

        running(served)

    def end() -> None:
        from e2e.running import stop

        stop()
        served.stop()

    worker.serve(sys.argv[1:], begin, end)


if __name__ == "__main__":
    main()
