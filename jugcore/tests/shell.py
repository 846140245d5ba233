"""The engine's command run in this process, as from a shell: the same arguments, input and output, without the seconds of a start."""

from __future__ import annotations

import contextlib
import io
import sys
from unittest import mock

from jugcore.__main__ import main


def run(arguments: list[str], text: str = "") -> tuple[int, str, str]:
    """The code it ends with, what it prints, and what it prints as an error."""
    out, err = io.StringIO(), io.StringIO()
    with mock.patch.object(sys, "stdin", io.StringIO(text)), contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        code = main(arguments)
    return code, out.getvalue(), err.getvalue()
