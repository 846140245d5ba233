"""Writes every answer down anew."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from jugcore.tests.recorded.cases import CASES

FOLDER = Path(__file__).parent


def _figures(found: Any) -> Any:
    """Figures to nine digits."""
    if isinstance(found, dict):
        return {key: _figures(value) for key, value in found.items()}
    if isinstance(found, list):
        return [_figures(value) for value in found]
    return float(f"{found:.9g}") if isinstance(found, float) else found


def main() -> None:
    for name, made in CASES.items():
        text = json.dumps(_figures(made()), indent=1, ensure_ascii=False, sort_keys=True)
        (FOLDER / f"{name}.json").write_text(text + "\n", encoding="utf-8")
        print(f"{name}: {len(text):,}")


if __name__ == "__main__":
    main()
