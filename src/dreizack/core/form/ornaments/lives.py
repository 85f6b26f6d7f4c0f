"""Grains that live a while: thrown off, falling, bouncing off a ground; a function of time alone."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...document import Swarm

Floats = NDArray[np.float64]

# Of its life, how much a grain takes to come, and to go.
COMES, GOES = 0.15, 0.5
# Shares of a turn that never come close to one another (the golden ratio).
TURN = 0.6180339887


def ages(swarm: Swarm, seconds: float, phase: Floats) -> tuple[Floats, Floats]:
    """How many seconds each grain has lived (n,), and which of its lives it is in, for grains whose lives
    begin at ``phase`` (n,), shares of a life."""
    lives = seconds / swarm.life + phase
    number = np.floor(lives)
    return (lives - number) * swarm.life, number


def thrown(swarm: Swarm, start: Floats, age: Floats, ways: Floats) -> Floats:
    """Where grains (n, 3) are that began at ``start`` (n, 3), ``age`` (n,) seconds ago, thrown along ``ways``
    (n, 3) of length 1 at most."""
    speed = swarm.thrown * ways
    speed[:, 1] += swarm.rise
    at = start + speed * age[:, None]
    if not swarm.ground:
        at[:, 1] -= swarm.falls / 2 * age**2
        return at
    floor = swarm.ground_height
    height = np.maximum(start[:, 1] - floor, 0.0)
    at[:, 1] = floor + bounced(height, speed[:, 1], age, swarm.falls, swarm.bounce)
    return at


def turned(ways: Floats, angle: Floats) -> Floats:
    """Directions (n, 3), each turned about the axis (1, 1, 1) by an ``angle`` (n,) (Rodrigues' formula)."""
    axis = np.full(3, 3**-0.5)
    c, s = np.cos(angle)[:, None], np.sin(angle)[:, None]
    found: Floats = ways * c + np.cross(axis, ways) * s + axis * (ways @ axis)[:, None] * (1 - c)
    return found


def bounced(height: Floats, speed: Floats, age: Floats, falls: float, bounce: float) -> Floats:
    """Heights (n,) above a ground of bodies thrown up at ``speed`` from a ``height``, ``age`` seconds ago,
    that keep a share ``bounce`` of their speed at every bounce.

    Bounces last u·b, u·b², ... with u = 2 v / g after the first impact at v: a geometric series, so the
    number of those that are over is a logarithm.
    """
    if falls <= 1e-6:
        return np.maximum(height + speed * age, 0.0)
    impact = np.sqrt(speed**2 + 2 * falls * height)
    first = (speed + impact) / falls
    flying = height + speed * age - falls / 2 * age**2
    after, lasts = age - first, 2 * impact * bounce / falls
    if bounce <= 0:
        return np.where(after < 0, flying, 0.0)
    left = 1 - after * (1 - bounce) / np.maximum(lasts, 1e-12)
    over = np.floor(np.log(np.maximum(left, 1e-12)) / np.log(bounce))
    over = np.maximum(over, 0.0)
    begun = lasts * (1 - bounce**over) / (1 - bounce)
    since, upward = np.where(left > 1e-9, after - begun, 0.0), impact * bounce ** (over + 1)
    hopping = np.maximum(upward * since - falls / 2 * since**2, 0.0)
    return np.where(after < 0, flying, np.where(left > 1e-9, hopping, 0.0))


def size_over_life(swarm: Swarm, age: Floats) -> Floats:
    """How large grains are (n,), as a share of what they are in the middle of their lives."""
    share = age / swarm.life
    if swarm.ages == "alike":
        return np.ones_like(share)
    going: Floats = np.clip((1 - share) / GOES, 0, 1)
    if swarm.ages == "shrinks":
        return np.asarray(1 - share)
    return np.asarray(np.clip(share / COMES, 0, 1) * going)
