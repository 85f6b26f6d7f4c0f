"""The picture answers about time: what moves a letter, how much, and when."""

from __future__ import annotations

from dreizack.core.document import (
    Channel,
    Coupling,
    Drift,
    Format,
    Key,
    LetterSet,
    Pivot,
    Place,
    Shot,
    Span,
    Timing,
    Title,
)
from dreizack.core.scene import movers


def shot() -> Shot:
    title = Title(
        words="EBB",
        span=Span(whole=False, start=5, end=50, arrival=20),
        place=Place(hangs_on="buoy"),
        sets=[LetterSet(step=1, timing=Timing(order="reading", delay=4.0))],
    )
    linear = {"kind": "linear"}
    return Shot.model_validate(
        {
            "format": Format(frames=60),
            "things": {"title": title, "buoy": Pivot(name="Buoy")},
            "channels": {
                "/things/title/sets/0/move/y": {
                    "keys": [{"frame": 5, "value": 0, "ease": linear}, {"frame": 15, "value": 1}]
                },
                "/things/title/place/position/x": {
                    "keys": [{"frame": 0, "value": 0, "ease": linear}, {"frame": 10, "value": 1}]
                },
                "/things/buoy/place/rotation/y": Channel(
                    keys=[Key(frame=0, value=0), Key(frame=9, value=90)]
                ),
            },
            "drifts": {"/things/title/place/position/y": Drift(amplitude=0.5)},
            "couplings": {
                "/things/title/place/position/z": Coupling(source="/things/title/place/position/x")
            },
        }
    )


def test_every_cause_is_named_with_how_much_it_adds_and_when() -> None:
    told = {one.at: one for one in movers(shot(), "title", 1, 8.0)}
    assert told["/things/title/span/start"].says == "from frame 5 to 49; arrives until 25"
    assert told["/things/buoy"].says == "Buoy, and moves with it"
    assert told["/things/title/place/position/x"].label == "position x"
    assert told["/things/title/place/position/x"].says == "0.8 m, +0.1 m a frame: keys from 0 to 10"
    assert "follows /things/title/place/position/x" in told["/things/title/place/position/z"].says
    assert "drift adds" in told["/things/title/place/position/y"].says
    # The second letter is four frames late: a frame from 5 + 4 it has not begun.
    assert told["/things/title/sets/0"].says == "nothing at this frame; its time is frame 9 to 19"
    first = {one.at: one for one in movers(shot(), "title", 0, 8.0)}["/things/title/sets/0"]
    assert first.label == "set 1" and first.says == "up by 0.3 m; its time is frame 5 to 15"


def test_what_rests_says_nothing() -> None:
    still = Shot(things={"title": Title()})
    assert movers(still, "title", 0, 3.0) == []
