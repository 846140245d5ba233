"""What of ours must be there before a batch can go on, and that nobody took out of a bottle for it."""

from __future__ import annotations

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.figures import shown


def made_first(batch: ActualBatch) -> list[str]:
    """“Make first: 200 g of Fennel Syrup, version 2. No bottle of it was taken for this batch.” of each version that is still to be weighed in.

    Nothing of a line whose bottle was chosen when the batch was started, nor once it is weighed; nothing of a batch that is over.
    """
    if batch.record.status != "running":
        return []
    grams: dict[tuple[str, int], float] = {}
    for id, line in batch.method.lines.items():
        made = batch.method.substances[line.substance].made
        if made is None or made.lot or id in batch.record.weighed:
            continue
        wanted = float(batch.walk.end.lines[id][0])
        if wanted > 0:
            key = made.version.name, made.version.version
            grams[key] = grams.get(key, 0.0) + wanted
    return [
        f"Make first: {shown(round(wanted, 0 if wanted >= 10 else 1))} g of {name}, version {version}. No bottle of it was taken for this batch."
        for (name, version), wanted in grams.items()
    ]
