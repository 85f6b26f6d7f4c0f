"""The frames of a sequence, in light: pieces one after the other, mixed where they overlap."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from fractions import Fraction
from itertools import groupby

import numpy as np
from numpy.typing import NDArray

from ..colour import from_display
from ..document import Shot, lost_sounds
from ..media.failing import Failing, FilesLost
from ..media.finishing import finishing
from ..media.frames import pictures
from ..media.order import Order
from ..media.picture import FramePicture, shot_picture
from ..media.sharing import Sharing
from ..media.shelf import FrameKeeper
from ..optics import Alone, display_values
from .bundle import Bundle
from .document import SequencePiece
from .framing import Part
from .layout import Layout, Moment, Showing
from .shots import SeenShots
from .sound import sequence_sound
from .transitions import TRANSITIONS, Crossing

Floats = NDArray[np.float32]

# In which pictures are mixed whose view transforms differ: each is given what this one shows as theirs shows.
COMMON_VIEW = "plain sRGB"


class SequenceReel:
    """Renders an ``order`` of a bundle: its size may have another shape than the sequence."""

    def __init__(
        self,
        bundle: Bundle,
        order: Order,
        keeper: FrameKeeper | None = None,
        shares: Callable[[], Sharing] | None = None,
    ) -> None:
        self.bundle, self.order, self.keeper, self.shares = bundle.check(), order, keeper, shares
        self.layout = Layout(bundle.sequence)
        self.shots = SeenShots(bundle, order.width, order.height)
        self.failing = Failing()

    @property
    def rate(self) -> Fraction:
        return Fraction(self.bundle.sequence.rate.num, self.bundle.sequence.rate.den)

    def pictures(self, stopped: Callable[[], bool]) -> Iterator[FramePicture]:
        order = self.order
        moments = [self.layout.at(frame) for frame in range(order.first, order.last + 1)]
        running = self._running(moments, stopped)
        for frame, moment in enumerate(moments, order.first):
            line = [self._next(running, showing) for showing in moment.line]
            over = [(self._next(running, showing), showing.share) for showing in moment.over]
            faults = [picture.fault for picture in (*line, *(p for p, _ in over)) if picture.fault]
            if faults:
                self.failing.note(frame, faults[0])
                continue
            self.failing.fine()
            yield composed(frame, moment, line, over, (order.width, order.height))

    def sound(self) -> NDArray[np.float32] | None:
        sequence = self.bundle.sequence
        lost = lost_sounds(sequence.sounds)
        for name in sequence.shots:
            lost += lost_sounds(self.bundle.shots[name].sounds)
        if lost:
            raise FilesLost(lost)
        return sequence_sound(self.bundle, self.order.first, self.order.last)

    def _running(
        self, moments: list[Moment], stopped: Callable[[], bool]
    ) -> dict[int, Iterator[FramePicture]]:
        """Frames of each piece that is seen, in the order they are needed; none is made before."""
        wanted: dict[int, list[tuple[Showing, Moment]]] = {}
        for moment in moments:
            for showing in (*moment.line, *moment.over):
                if showing.piece.kind == "shot":
                    wanted.setdefault(showing.number, []).append((showing, moment))
        return {number: self._of_piece(shown, stopped) for number, shown in wanted.items()}

    def _of_piece(
        self, shown: list[tuple[Showing, Moment]], stopped: Callable[[], bool]
    ) -> Iterator[FramePicture]:
        """Frames of a piece, whose shot is another one while its camera travels."""
        seen = ((self.shots.at(showing, moment), showing) for showing, moment in shown)
        for _, run in groupby(seen, key=lambda one: id(one[0])):
            pairs = list(run)
            shot, showings = pairs[0][0], [showing for _, showing in pairs]
            yield from self._of_shot(shot, showings[0].piece, [one.frame for one in showings], stopped)

    def _of_shot(
        self, shot: Shot, piece: SequencePiece, frames: list[float], stopped: Callable[[], bool]
    ) -> Iterator[FramePicture]:
        size = self.order.width, self.order.height
        part = self.shots.part(piece.shot, size)
        whole = part.whole if part is not None else size
        # What is asked for beyond its end stands.
        at = np.minimum(np.array(frames), shot.format.frames - 1)
        order = Order(0, len(frames) - 1, *whole, self.order.quality)
        sharing = self.shares() if self.shares is not None else None
        failing = Failing(patient=True)
        for index, state, rgba, kept in pictures(shot, order, self.keeper, stopped, at, sharing, failing):
            if rgba is not None:
                failing.fine()
                made = shot_picture(state, rgba, finishing(state, whole), kept)
                yield made if part is None else cropped(made, part)
                continue
            missing = plain_picture(piece, size)
            missing.fault = f"{piece.name or piece.shot}: {failing.why[index]}"
            yield missing

    def _next(self, running: dict[int, Iterator[FramePicture]], showing: Showing) -> FramePicture:
        if showing.number in running:
            return next(running[showing.number])
        return plain_picture(showing.piece, (self.order.width, self.order.height))


def cropped(picture: FramePicture, part: Part) -> FramePicture:
    """A part of a finished picture: what optics do to it comes from all of it."""

    def alone() -> Alone:
        whole = picture.alone
        return Alone(*(part.of(one) for one in (whole.light, whole.coverage, whole.glow, whole.shadow)))

    return FramePicture(picture.number, lambda: part.of(picture.light), alone, picture.view, picture.kept)


def plain_picture(piece: SequencePiece, size: tuple[int, int]) -> FramePicture:
    """A picture of one colour; there are no titles in it."""
    c = piece.colour
    light = np.broadcast_to(np.array([c.r, c.g, c.b], np.float32), (size[1], size[0], 3))
    return FramePicture(0, lambda: light, lambda: _nothing(size), COMMON_VIEW, True)


def composed(
    frame: int,
    moment: Moment,
    line: list[FramePicture],
    over: list[tuple[FramePicture, float]],
    size: tuple[int, int],
) -> FramePicture:
    """One frame of the sequence from those of the pieces that are there: mixed in scene light, titles of the
    lanes over it. Nothing is made before it is asked for."""
    views = {picture.view for picture in line if picture.view != COMMON_VIEW} | {p.view for p, _ in over}
    view = views.pop() if len(views) == 1 else COMMON_VIEW

    def light() -> Floats:
        made = _base(moment, [_in_view(picture.light, picture.view, view) for picture in line], line, size)
        for picture, share in over:
            laid = picture.alone.premultiplied
            made = made * (1 - share * laid[..., 3:]) + share * _in_view(laid[..., :3], picture.view, view)
        return made

    def alone() -> Alone:
        made = _alone(moment, [picture.alone for picture in line], size)
        for picture, share in over:
            made = _laid_over(made, picture.alone, np.float32(share))
        return made

    kept = all(picture.kept for picture in (*line, *(p for p, _ in over)))
    return FramePicture(frame, light, alone, view, kept)


def _in_view(light: Floats, has: str, wanted: str) -> Floats:
    """Light that looks through one view transform as this does through another."""
    if has == wanted:
        return light
    return from_display(display_values(light, has), wanted)


def _base(moment: Moment, lights: list[Floats], line: list[FramePicture], size: tuple[int, int]) -> Floats:
    """What is on the line, mixed."""
    if not lights:
        return np.zeros((size[1], size[0], 3), np.float32)
    if len(lights) == 1 or moment.transition is None:
        return lights[-1]
    how = moment.transition
    coverage = line[0].alone.coverage.max(axis=2) if how.kind == "letters" else None
    return TRANSITIONS[how.kind](Crossing(lights[0], lights[1], moment.along, coverage), how)


def _alone(moment: Moment, of: list[Alone], size: tuple[int, int]) -> Alone:
    if not of:
        return _nothing(size)
    if len(of) == 1 or moment.transition is None:
        return of[-1]
    how, coverage = moment.transition, of[0].coverage.max(axis=2)
    if how.kind in ("dip", "flash"):
        # Colours and flashes lie behind titles: of those alone the one gives way to the other.
        how = how.model_copy(update={"kind": "dissolve"})
    stacks = [np.concatenate([a.light, a.coverage, a.glow, a.shadow], axis=2) for a in of]
    mixed = TRANSITIONS[how.kind](Crossing(stacks[0], stacks[1], moment.along, coverage), how)
    return Alone(mixed[..., :3], mixed[..., 3:6], mixed[..., 6:9], mixed[..., 9:])


def _laid_over(below: Alone, above: Alone, share: np.float32) -> Alone:
    """Titles over titles (Porter & Duff, Compositing Digital Images, 1984: over)."""
    left = 1 - share * above.coverage
    return Alone(
        below.light * left + share * above.light,
        below.coverage * left + share * above.coverage,
        below.glow * left + share * above.glow,
        below.shadow * left.min(axis=2, keepdims=True) + share * above.shadow,
    )


def _nothing(size: tuple[int, int]) -> Alone:
    empty = np.zeros((size[1], size[0], 3), np.float32)
    return Alone(empty, empty, empty, empty[..., :1])
