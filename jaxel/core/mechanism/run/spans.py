"""Stretches of a mask: from which point up to which it holds."""

import numpy as np

from ..numerics.tables import Mask


def spans(mask: Mask, least: int = 1) -> list[tuple[int, int]]:
    """Every stretch of at least so many points, as its first and the one past its last.

    >>> spans(np.array([True, True, False, True]))
    [(0, 2), (3, 4)]
    """
    edges = np.flatnonzero(np.diff(np.concatenate([[False], mask, [False]]).astype(np.int8))).tolist()
    return [(start, stop) for start, stop in zip(edges[::2], edges[1::2], strict=True) if stop - start >= least]
