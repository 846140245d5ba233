"""A small simulated till: it says over HTTP what the demo sold, as CSV. It is also the pattern for a real one.

``GET /sold.csv?from=2031-05-01&to=2031-05-31`` answers with a table headed Day, Place, Item, Size, Sold: one row for each thing that was
sold on a day at a place. Run alone it is ``./jug till``; the demo starts one beside the app.
"""

from __future__ import annotations

import argparse
from datetime import date
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from threading import Thread
from urllib.parse import parse_qs, urlsplit

from jugserver.demo.sold import as_csv

PATH = "/sold.csv"


class _Answers(BaseHTTPRequestHandler):
    """Answers one question, and what is none with a sentence."""

    server_version = "till"

    def do_GET(self) -> None:
        parts = urlsplit(self.path)
        if parts.path != PATH:
            self._say(404, f"Ask for {PATH}.", "text/plain; charset=utf-8")
            return
        asked = parse_qs(parts.query)
        try:
            first, last = (date.fromisoformat(asked[name][0]) if name in asked else None for name in ("from", "to"))
        except ValueError:
            self._say(400, "Write days as 2031-05-24.", "text/plain; charset=utf-8")
            return
        self._say(200, as_csv(date.today(), first, last), "text/csv; charset=utf-8")

    def _say(self, status: int, text: str, kind: str) -> None:
        data = text.encode()
        self.send_response(status)
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(data)))
        self.end_headers()
        self.wfile.write(data)

    def log_message(self, format: str, *args: object) -> None:
        """Nothing: whoever asks is told."""


def listening(port: int = 0) -> ThreadingHTTPServer:
    """A till on loopback; port 0 is any that is free."""
    server = ThreadingHTTPServer(("127.0.0.1", port), _Answers)
    server.daemon_threads = True
    return server


def address_of(server: ThreadingHTTPServer) -> str:
    """Where it answers."""
    return f"http://127.0.0.1:{server.server_address[1]}{PATH}"


def beside(before: str) -> str:
    """Start a till in a thread of this process, which ends with it: where one answered before, if that is free. Returns where it answers."""
    try:
        server = listening(urlsplit(before).port or 0)
    except OSError:
        server = listening()
    Thread(target=server.serve_forever, name="till", daemon=True).start()
    return address_of(server)


def main() -> None:
    parser = argparse.ArgumentParser(description="A simulated till on loopback.")
    parser.add_argument("--port", type=int, default=8690)
    server = listening(parser.parse_args().port)
    print(f"The till answers at {address_of(server)}   Ctrl-C stops it", flush=True)
    try:
        server.serve_forever()
    except KeyboardInterrupt:
        server.server_close()


if __name__ == "__main__":
    main()
