"""Random numbers that are spread evenly over the samples of a pixel.

Every pair of dimensions is a (0,2)-sequence of its own, shuffled and scrambled by hashing: Burley, Practical
Hash-based Owen Scrambling, JCGT 9(4), 2020. Any power of two of consecutive samples is stratified, so passes
may be of any length and add up.
"""

from __future__ import annotations

from typing import Any

from ..kernel.engine import arrays, engine

mi, dr = engine(), arrays()


def mixed(x: Any) -> Any:
    """A hash of 32 bits (Wellons, Prospecting for Hash Functions, 2018: lowbias32)."""
    x = mi.UInt32(x)
    x ^= x >> 16
    x *= 0x7FEB352D
    x ^= x >> 15
    x *= 0x846CA68B
    x ^= x >> 16
    return x


def _scrambled(x: Any, seed: Any) -> Any:
    """Owen scrambling of bit-reversed numbers (Laine & Karras 2011, with Vegdahl's constants)."""
    x = x + seed
    x ^= x * 0x6C50B47C
    x ^= x * 0xB82F1E52
    x ^= x * 0xC7AFE638
    x ^= x * 0x8D22F6E6
    return x


def _pascal(x: Any) -> Any:
    """Product with Pascal's matrix modulo 2, the second dimension of Sobol's sequence."""
    x ^= (x & 0xAAAAAAAA) >> 1
    x ^= (x & 0xCCCCCCCC) >> 2
    x ^= (x & 0xF0F0F0F0) >> 4
    x ^= (x & 0xFF00FF00) >> 8
    x ^= x >> 16
    return x


def _unit(x: Any) -> Any:
    return mi.Float(dr.brev(x) >> 8) * 2**-24


class Sampler:
    """Samples number ``index`` of the sequence that belongs to ``seed``, dimension by dimension."""

    DRJIT_STRUCT = {"seed": mi.UInt32, "index": mi.UInt32, "dimension": mi.UInt32}  # noqa: RUF012

    def __init__(self, seed: Any = None, index: Any = None) -> None:
        self.seed, self.index, self.dimension = seed, index, mi.UInt32(0)

    def _next(self) -> tuple[Any, Any]:
        shuffle = mixed(self.seed ^ (self.dimension * 0x9E3779B9))
        self.dimension += 1
        return dr.brev(_scrambled(dr.brev(self.index), shuffle)), shuffle

    def one(self) -> Any:
        """A number in [0, 1)."""
        index, shuffle = self._next()
        return _unit(_scrambled(index, mixed(shuffle ^ 0x1B56C4E9)))

    def two(self) -> Any:
        """A point in the unit square."""
        index, shuffle = self._next()
        x = _scrambled(index, mixed(shuffle ^ 0x1B56C4E9))
        y = _scrambled(_pascal(mi.UInt32(index)), mixed(shuffle ^ 0x68E31DA4))
        return mi.Point2f(_unit(x), _unit(y))
