"""What is worked out is kept, and worked out once for all who want it at the same time."""

import threading
import time
from concurrent.futures import ThreadPoolExecutor

import pytest

from documents.memory import Memory
from elastic_core.budget import Budget, OverBudget, within


def test_what_four_want_at_once_is_made_by_one_of_them() -> None:
    memory, made = Memory(100_000), []

    def make() -> str:
        made.append(threading.get_ident())
        time.sleep(0.05)
        return "cleaned"

    with ThreadPoolExecutor(4) as desk:
        wanted = [desk.submit(memory.made, "take", make, lambda thing: 10) for _ in range(4)]
        assert [one.result() for one in wanted] == ["cleaned"] * 4
    assert len(made) == 1


def test_where_its_maker_gives_up_the_next_one_makes_it() -> None:
    memory, begun, tries = Memory(100_000), threading.Event(), []

    def make() -> str:
        tries.append(1)
        if len(tries) == 1:
            begun.set()
            time.sleep(0.05)
            raise OverBudget("Nobody waits for it any more.")
        return "cleaned"

    with ThreadPoolExecutor(2) as desk:
        first = desk.submit(memory.made, "take", make, lambda thing: 10)
        begun.wait()
        second = desk.submit(memory.made, "take", make, lambda thing: 10)
        assert second.result() == "cleaned"
        with pytest.raises(OverBudget):
            first.result()
    assert len(tries) == 2


def test_who_waits_may_go_away_and_others_go_on() -> None:
    memory, begun, goes_on = Memory(100_000), threading.Event(), threading.Event()

    def make() -> str:
        begun.set()
        goes_on.wait()
        return "cleaned"

    def gone() -> None:
        raise OverBudget("Nobody waits for it any more.")

    with ThreadPoolExecutor(1) as desk:
        maker = desk.submit(memory.made, "take", make, lambda thing: 10)
        begun.wait()
        assert memory.made("figure", lambda: "Odo", lambda thing: 10) == "Odo"
        with within(Budget(1_000, gone)), pytest.raises(OverBudget):
            memory.made("take", make, lambda thing: 10)
        goes_on.set()
        assert maker.result() == "cleaned"
    assert memory.made("take", make, lambda thing: 10) == "cleaned"
