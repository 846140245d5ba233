"""Migrate, load the demo in demo mode, then serve: one process, one start.

Run by ./jug with the environment that :mod:`jugserver.process.environment` reads.
"""

from __future__ import annotations

import argparse
import ctypes
import os
import signal
import socket
import sys

_PR_SET_PDEATHSIG = 1


def main() -> int:
    parser = argparse.ArgumentParser()
    parser.add_argument("--socket", type=int, required=True, help="number of a file that listens already, handed on by ./jug")
    parser.add_argument("--reload", action="store_true")
    parser.add_argument("--certificate", help="with --key: serve HTTPS")
    parser.add_argument("--key")
    chosen = parser.parse_args()
    # If ./jug is killed, do not stay behind and hold the port.
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)
    # The server sends itself the signal it was ended by once more when it is done: then what it holds is put away.
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "jugserver.config.settings")

    import django
    from django.conf import settings
    from django.core.management import call_command

    from jugserver.process.environment import environment

    django.setup()
    from jugserver.config.roles import as_owner, grant  # it knows the tables

    with as_owner():
        call_command("migrate", interactive=False, verbosity=0)
        if environment().db_owner is not None:
            grant()
    if settings.DEMO_MODE:
        from jugserver.demo import till
        from jugserver.demo.load import load, load_batches, load_sold

        load()
        load_batches()
        load_sold(till.beside)

    import uvicorn
    from uvicorn.supervisors import ChangeReload

    config = uvicorn.Config(
        "jugserver.config.asgi:application", reload=chosen.reload, log_level="warning", timeout_graceful_shutdown=2, lifespan="off",
        access_log=False, proxy_headers=bool(environment().trusted_proxies), forwarded_allow_ips=environment().trusted_proxies or None,
        ssl_certfile=chosen.certificate, ssl_keyfile=chosen.key,
    )  # fmt: skip
    server = uvicorn.Server(config)
    listening = socket.socket(fileno=chosen.socket)
    if config.should_reload:
        ChangeReload(config, target=server.run, sockets=[listening]).run()
    else:
        server.run(sockets=[listening])
    return 0


if __name__ == "__main__":
    sys.exit(main())
