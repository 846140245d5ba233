"""Whose turn it is: as many at once as there are processes, one after another of everybody who waits, not of everything that waits.

Somebody who asks for forty things at once waits for them; the next person's first comes after one of these, not after all.
"""

from __future__ import annotations

from collections import Counter, OrderedDict, deque
from collections.abc import Hashable
from threading import Event, Lock


class Turn:
    """A place in the queue; ``called`` once it is one's turn."""

    def __init__(self, who: Hashable, event: Event) -> None:
        self.who, self.event = who, event
        self.called = self.over = False


class Turns:
    """The queue of one pool."""

    def __init__(self, at_once: int, most_of_one: int) -> None:
        self._at_once, self._most_of_one = at_once, most_of_one
        self._lock = Lock()
        self._running: Counter[Hashable] = Counter()
        self._waiting: OrderedDict[Hashable, deque[Turn]] = OrderedDict()

    def take(self, who: Hashable, event: Event) -> Turn | None:
        """A place, whose ``event`` is set when it is called; None where this person has too many in the queue already."""
        turn = Turn(who, event)
        with self._lock:
            own = self._waiting.setdefault(who, deque())
            if len(own) + self._running[who] >= self._most_of_one:
                if not own:
                    del self._waiting[who]
                return None
            own.append(turn)
            self._call()
        return turn

    def give_back(self, turn: Turn) -> None:
        """Done, or no longer wanted: the next is called. A turn is given back once, whatever else is done."""
        with self._lock:
            if turn.over:
                return
            turn.over = True
            if turn.called:
                self._running[turn.who] -= 1
                if not self._running[turn.who]:
                    del self._running[turn.who]
            else:
                self._waiting[turn.who].remove(turn)
                if not self._waiting[turn.who]:
                    del self._waiting[turn.who]
            self._call()

    def under_way(self) -> tuple[int, int]:
        """How many run and how many wait."""
        with self._lock:
            return sum(self._running.values()), sum(len(own) for own in self._waiting.values())

    def _call(self) -> None:
        """Call whoever has fewest under way, of these who has waited longest since their last."""
        while self._waiting and sum(self._running.values()) < self._at_once:
            who = min(self._waiting, key=lambda each: self._running[each])
            turn = self._waiting[who].popleft()
            if self._waiting[who]:
                self._waiting.move_to_end(who)
            else:
                del self._waiting[who]
            self._running[who] += 1
            turn.called = True
            turn.event.set()
