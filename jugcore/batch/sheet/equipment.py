"""What a batch's equipment met: the allergens of every stage that was done, by the piece it was done with."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.batch.log import events as e
from jugcore.batch.sheet.schema import Piece, SheetEquipment
from jugcore.matter.substance import EU_ALLERGENS
from jugcore.reading.equipment.cross_contact import met_at, pieces_taken


@dataclass(frozen=True)
class Met:
    """A piece of equipment, by its id in the kitchen, that met an allergen at a time."""

    piece: str
    allergen: str
    at: datetime


def equipment_at(batch: ActualBatch, stage: str) -> SheetEquipment | None:
    """What a stage is done with; None where there is nothing to choose from."""
    best = pieces_taken(batch.walk).get(stage)
    if best is None:
        return None
    there = [piece for piece in batch.walk.kitchen.equipment or () if piece.kind == best.kind]
    if len(there) < 2:
        return None
    said = _said(batch).get(stage)
    pieces = [Piece(id=piece.id, name=piece.name) for piece in there]
    taken = next((piece for piece in pieces if piece.id == said), Piece(id=best.id, name=best.name))
    return SheetEquipment(taken=taken, said=said is not None, pieces=pieces)


def _said(batch: ActualBatch) -> dict[str, str]:
    """Stage → the piece that was said to have been taken."""
    pieces = {piece.id for piece in batch.walk.kitchen.equipment or ()}
    return {what.stage: what.piece for _, what in batch.record.of(e.Took) if what.piece in pieces}


def equipment_met(batch: ActualBatch) -> list[Met]:
    """What each piece met so far, the last time of each. A stage counts once it is done, or the batch is over; the piece is the one that
    was said to have been taken, else the one that the sheet says to take.
    """
    walked, record = batch.walk, batch.record
    said = _said(batch)
    found: dict[tuple[str, str], datetime] = {}
    for id, piece in pieces_taken(walked).items():
        done = record.done(id) or record.closed
        if done is None:
            continue
        stage = next(each for each in walked.stages if each.id == id)
        for allergen in met_at(walked, stage):
            key = said.get(id, piece.id), allergen
            found[key] = max(found.get(key, done.event.at), done.event.at)
    return [
        Met(piece, allergen, at) for (piece, allergen), at in sorted(found.items(), key=lambda each: (each[0][0], EU_ALLERGENS.index(each[0][1])))
    ]
