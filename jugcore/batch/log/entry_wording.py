"""An entry of the log in words."""

from __future__ import annotations

from collections.abc import Callable

from jugcore.batch.log import events as e
from jugcore.batch.log.events import Logged
from jugcore.figures import shown


def entry_text(entry: Logged, line: Callable[[str], str], stage: Callable[[str], str]) -> str:
    """An entry in words, for the log: “430 g of pear juice”."""
    what = entry.event.what
    match what:
        case e.Weighed():
            return f"{'another ' if what.more else ''}{shown(what.mass_g)} g of {line(what.line)}"
        case e.PotWeighed():
            return f"{stage(what.stage)}: the pot reads {shown(what.reads_g)} g"
        case e.Gave():
            return f"{stage(what.stage)}: gave {shown(what.mass_g)} g"
        case e.Probed():
            return f"{stage(what.stage)}: probe {shown(what.temperature_c)} °C"
        case e.Refracted():
            of = f" of {line(what.line)}" if what.line else ""
            warm = "" if what.corrects_itself else f", drop at {shown(what.sample_c)} °C"
            return f"{stage(what.stage)}: refractometer {shown(what.reading_brix)} °Bx{of}{warm}"
        case e.Reckoned():
            return f"{line(what.line)} reckoned with as {shown(what.brix)} °Bx"
        case e.Swapped():
            return f"{line(what.line)}: {what.facts.title if what.facts else what.substance.replace('_', ' ')} went in"
        case e.Began():
            return f"{stage(what.stage)}: begun"
        case e.Done():
            return f"{stage(what.stage)}: done"
        case e.Bottled():
            return f"{what.count} filled with {shown(what.each_g)} g each" if what.count > 1 else f"one filled with {shown(what.each_g)} g"
        case e.Labelled():
            which = f"label{'s' if what.count > 1 else ''}{' for the day it is opened' if what.label == 'opened' else ''}"
            return f"{what.count} {which} handed out{f': {what.says}' if what.says else ''}"
        case e.LeftOver():
            return f"{shown(what.mass_g)} g left over, {what.fate}"
        case e.Wasted():
            return f"{shown(what.mass_g)} g thrown away: {what.reason}"
        case e.Flowed():
            run = "did not run" if what.stuck else f"ran in {shown(what.seconds)} s"
            return f"{run} through {what.funnel} at {shown(what.temperature_c)} °C"
        case e.Took():
            return f"{stage(what.stage)}: done with {what.piece.replace('-', ' ')}"
        case e.Assessed():
            heat = {True: "all of it heated", False: "not all of it heated", None: ""}[what.heat_treated]
            packed = {True: "closed at once", False: "not closed at once", None: ""}[what.packaged]
            return ", ".join(part for part in (f"pH {shown(what.ph)}" if what.ph is not None else "", heat, packed) if part)
        case e.Frozen():
            return f"into the freezer{f': {what.how}' if what.how else ''}"
        case e.Thawed():
            return "out of the freezer, to thaw in the fridge"
        case e.Noted():
            return what.text
        case e.TimerSet():
            return f"timer “{what.title}”, {shown(round(what.seconds / 60, 1))} min"
        case e.TimerOff():
            return "a timer turned off"
        case e.Undone():
            return "an entry taken back"
        case e.Settled():
            return "a question answered"
        case e.Accepted(about="cooling"):
            return f"not shown cold in time: {what.why}"
        case e.Accepted():
            return f"{what.title or 'what is off plan'} left as it is{f' ({what.why})' if what.why else ''}"
        case e.PutRight():
            return f"put right: {what.title}{f' ({what.why})' if what.why else ''}"
        case e.Closed():
            return "finished" if what.outcome == "finished" else f"stopped: {what.reason}"
