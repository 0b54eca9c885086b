"""What every look does many times over: windows that overlap, and the middle one of a few values. NumPy's own take four to
twenty times as long for arrays so small.
"""

from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

Number = TypeVar("Number", bound=np.generic)


def windows(samples: NDArray[Number], length: int, *, every: int, count: int) -> NDArray[Number]:
    """So many windows of ``samples`` (shape (n,)), each begun ``every`` later, without a copy where they lie beside each other:
    shape (count, length), or as many as there is room for.
    """
    samples = np.ascontiguousarray(samples)
    count = min(count, 1 + (len(samples) - length) // every if len(samples) >= length else 0)
    (step,) = samples.strides
    return np.ndarray((count, length), samples.dtype, samples, strides=(every * step, step))


def middle(values: NDArray[np.floating]) -> float:
    """The median of a few values; 0 of none.

    >>> middle(np.array([3.0, 1.0, 8.0, 2.0])), middle(np.empty(0))
    (2.5, 0.0)
    """
    ordered, half = np.sort(values), len(values) // 2
    return 0.5 * float(ordered[half] + ordered[-half - 1]) if half else float(ordered.sum())


def middles(values: NDArray[np.floating]) -> NDArray[np.float64]:
    """The median of each column: shape (columns,); ``values``: shape (rows, columns), of one row and more.

    >>> [float(each) for each in middles(np.array([[1.0, 5.0], [2.0, 3.0], [9.0, 4.0]]))]
    [2.0, 4.0]
    """
    ordered, half = np.sort(values, axis=0), len(values) // 2
    return np.asarray(0.5 * (ordered[half] + ordered[-half - 1]), dtype=np.float64)
