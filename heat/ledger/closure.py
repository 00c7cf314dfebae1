"""Do the hours close? Every balance of the books, summed for each hour in one compiled pass."""

import numpy as np
from numpy.typing import NDArray

from heat.common.compiled import kernel
from heat.ledger import accounts as acc

Array = NDArray[np.float64]


@kernel
def close_hours(books: Array, signs: Array, page: Array, worst: Array, largest: Array) -> None:
    """Write each hour's largest gap over all balances and its largest account (both Wh), 8,760 of each.

    books: COLUMNS x hours (Wh); signs: balances x COLUMNS of -1, 0, 1; ``page``: room for one number a balance and
    hour.

    Parameters
    ----------
    books
        Accounts by hour (Wh); written in place.
    signs
        Signs of the accounts in each balance (-1, 0, 1).
    page
        Room for one number a balance and hour; written in place.
    worst
        Largest gap of each hour (Wh); written in place.
    largest
        Largest account of each hour (Wh); written in place.
    """
    hours = books.shape[1]
    for c in range(books.shape[0]):
        row = books[c]
        some = 0.0
        for h in range(hours):
            some += abs(row[h])
        if some == 0.0:
            continue
        for h in range(hours):
            largest[h] = max(largest[h], abs(row[h]))
        for p in range(signs.shape[0]):
            sign = signs[p, c]
            if sign != 0.0:
                gap = page[p]
                for h in range(hours):
                    gap[h] += sign * row[h]
    for p in range(signs.shape[0]):
        gap = page[p]
        for h in range(hours):
            worst[h] = max(worst[h], abs(gap[h]))


def signs_of(balances: tuple[tuple[tuple[int, ...], tuple[int, ...]], ...]) -> Array:
    """Signs (-1, 0, 1; no unit) of balances, each given as columns that come in and columns that go out.

    Parameters
    ----------
    balances
        Columns that come in and columns that go out, by balance.

    Returns
    -------
    ndarray
        Signs (-1, 0, 1; no unit).
    """
    signs = np.zeros((len(balances), acc.COLUMNS))
    for p, (given, taken) in enumerate(balances):
        np.add.at(signs[p], list(given), 1.0)
        np.add.at(signs[p], list(taken), -1.0)
    return signs


def gaps(books: Array, signs: Array) -> tuple[Array, Array]:
    """Each hour's largest gap and largest account (Wh) of books (8,760 x COLUMNS, Wh).

    Parameters
    ----------
    books
        Accounts by hour (Wh); written in place.
    signs
        Signs of the accounts in each balance (-1, 0, 1).

    Returns
    -------
    tuple[Array, Array]
        Each hour's largest gap and largest account (Wh) of books (8,760 x COLUMNS, Wh).
    """
    by_column = np.ascontiguousarray(books.T)
    hours = by_column.shape[1]
    worst, largest = np.zeros(hours), np.zeros(hours)
    close_hours(by_column, signs, np.zeros((len(signs), hours)), worst, largest)
    return worst, largest
