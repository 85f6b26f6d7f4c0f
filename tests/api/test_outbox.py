"""What waits for a slow reader is bounded, and news is never silently lost."""

from __future__ import annotations

import asyncio

import pytest

from dreizack.api.outbox import Outbox, Overflow


def test_news_come_in_order_and_before_pictures() -> None:
    async def run() -> list[object]:
        box = Outbox()
        box.show("picture")
        box.tell("a")
        box.tell("b")
        return [await box.take() for _ in range(3)]

    assert asyncio.run(run()) == ["a", "b", "picture"]


def test_old_pictures_give_way_and_too_much_news_ends_it() -> None:
    async def run() -> None:
        box = Outbox(news=10, pictures=3)
        for number in range(1000):
            box.show(number)
        assert len(box) == 3 and [await box.take() for _ in range(3)] == [997, 998, 999]
        for number in range(10):
            box.tell(str(number))
        assert await box.take() == "0"
        for number in range(10_000):
            box.tell(str(number))
        assert len(box) <= 11
        with pytest.raises(Overflow):
            await box.take()

    asyncio.run(run())


def test_take_waits() -> None:
    async def run() -> object:
        box = Outbox()
        waiting = asyncio.create_task(box.take())
        await asyncio.sleep(0.01)
        assert not waiting.done()
        box.tell("now")
        return await asyncio.wait_for(waiting, 1)

    assert asyncio.run(run()) == "now"
