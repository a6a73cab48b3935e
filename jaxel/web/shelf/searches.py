"""Searches for what to fit, in turn: one runs at a time, each hand's next one before another hand's second.

A hand asks one question of a visit at a time: another one in its place gives up what is under way and nobody else waits
for. What was found can be looked at until its hand has asked many others; nobody's goes for somebody else's.
"""

import logging
from collections import OrderedDict
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from threading import Condition, Event, Thread
from typing import Literal

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.plan.plan import PlanDocument
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.trade.shelf.answers import TuningOrder
from jaxel.core.trade.shelf.shelf import StockPart

from ..jobs import GivenUp

Asker = tuple[str, int]
"""Who asks, and of which visit."""

MOST_A_HAND = 16
"""Questions of one hand that are kept: the oldest of its own gives way."""

MOST_HANDS = 500
"""Hands whose questions are kept; the one that asked longest ago gives way, if nothing of it is under way."""


@dataclass
class Search:
    """A search that waits, is under way or done."""

    document: SetupDocument
    parts: list[StockPart]
    order: TuningOrder
    left_out: list[str]
    measured: bool
    known_from: str
    share: float = 0.0
    found: PlanDocument | None = None
    refused: InvalidValue | None = None
    stop: Event = field(default_factory=Event)
    ended: Event = field(default_factory=Event)
    asked_by: set[Asker] = field(default_factory=set)

    def watch(self, share: float) -> None:
        """Hear how far it has come; raises GivenUp."""
        self.share = share
        if self.stop.is_set():
            raise GivenUp

    @property
    def state(self) -> Literal["searching", "done", "given up", "refused"]:
        if self.found is not None:
            return "done"
        if self.refused is not None:
            return "refused"
        return "given up" if self.stop.is_set() else "searching"


Work = Callable[[Search], PlanDocument]


class SearchRoom:
    """The searches of one application."""

    def __init__(self) -> None:
        self._searches: dict[str, Search] = {}
        self._asked: OrderedDict[str, OrderedDict[str, int]] = OrderedDict()
        self._waiting: OrderedDict[str, list[tuple[Search, Work]]] = OrderedDict()
        self._turn = Condition()
        self._worker: Thread | None = None

    @property
    def waiting(self) -> int:
        """Searches that wait or are under way."""
        with self._turn:
            return sum(each.state == "searching" for each in self._searches.values())

    def get(self, key: str) -> Search | None:
        """A search by what it looks at."""
        with self._turn:
            return self._searches.get(key)

    def ask(self, asker: Asker, key: str, search: Search, work: Work) -> Search:
        """Have a question answered; the same one asked before, by anybody, is that one, done or under way."""
        with self._turn:
            known = self._searches.get(key)
            fresh = known is None or known.stop.is_set()
            found = search if known is None or known.stop.is_set() else known
            self._searches[key] = found
            self._remember(asker, key)
            found.asked_by.add(asker)
            if fresh:
                self._waiting.setdefault(asker[0], []).append((found, work))
                if self._worker is None:
                    self._worker = Thread(target=self._run, name="plan", daemon=True)
                    self._worker.start()
                self._turn.notify()
        return found

    def give_up(self, asker: Asker, key: str) -> None:
        """Want a search no more: it stops when nobody else waits for it; one that is done stays done."""
        with self._turn:
            self._leave(asker, key)

    def _remember(self, asker: Asker, key: str) -> None:
        hand, visit = asker
        asked = self._asked.setdefault(hand, OrderedDict())
        self._asked.move_to_end(hand)
        for other in asked:
            if other != key:
                self._leave(asker, other)
        asked[key] = visit
        asked.move_to_end(key)
        while len(asked) > MOST_A_HAND:
            self._forget(hand, next(iter(asked)))
        if len(self._asked) > MOST_HANDS:
            idle = next((each for each, keys in self._asked.items() if not self._busy(keys)), None)
            for old in list(self._asked.get(idle or "", ())):
                self._forget(idle or "", old)
            self._asked.pop(idle or "", None)

    def _busy(self, keys: Iterable[str]) -> bool:
        return any(self._searches[each].state == "searching" for each in keys if each in self._searches)

    def _leave(self, asker: Asker, key: str) -> None:
        """Wait for a search no longer: one under way that nobody else waits for stops."""
        search = self._searches.get(key)
        if search is not None and search.state == "searching":
            search.asked_by.discard(asker)
            if not search.asked_by:
                search.stop.set()

    def _forget(self, hand: str, key: str) -> None:
        """Let go of what a hand asked longest ago; it goes when no other hand asked it."""
        self._leave((hand, self._asked[hand].pop(key)), key)
        if not any(key in keys for keys in self._asked.values()):
            self._searches.pop(key, None)

    def _next(self) -> tuple[Search, Work]:
        """The first question of the hand whose turn it is; it goes to the end of the row."""
        with self._turn:
            while not self._waiting:
                self._turn.wait()
            hand, waiting = next(iter(self._waiting.items()))
            search, work = waiting.pop(0)
            if waiting:
                self._waiting.move_to_end(hand)
            else:
                del self._waiting[hand]
            return search, work

    def _run(self) -> None:
        while True:
            search, work = self._next()
            try:
                if not search.stop.is_set():
                    search.found = work(search)
            except GivenUp:
                pass
            except InvalidValue as error:
                search.refused = error
            except Exception:
                logging.getLogger(__name__).exception("a search failed")
                search.refused = InvalidValue("plan", "could not be worked out for this set-up")
            finally:
                search.ended.set()
