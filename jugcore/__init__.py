"""Oaken Jug's core: one method, walked by matter.

Pure Python and numpy. No Django, no network, no clock and no randomness that
is not handed in; the only files read are the data files beside the modules.
"""

__version__ = "0.1.0"
