"""Grants in their order: what each gives, and when it is paid."""

from typing import NamedTuple

from heat.design.money import Grant


class Given(NamedTuple):
    """A grant as it comes out: its amount (currency), the first year it is paid in and over how many; whether its cap
    or the cost cut it; and how much more it gives for each unit that the whole costs more (1).
    """

    name: str
    amount: float
    years: int
    cut: str
    follows: float = 0.0

    def at_cost(self, more: float) -> "Given":
        """The grant as it comes out where the whole costs more (currency).

        Parameters
        ----------
        more
            How much more it costs (currency).

        Returns
        -------
        Given
            The grant then.
        """
        return self._replace(amount=max(self.amount + self.follows * more, 0.0))


def given(grants: tuple[Grant, ...], cost: float, area_m2: float, yield_kwh: float) -> list[Given]:
    """What each grant gives (currency) towards a cost (currency), in order: a share of what is left, a sum, so much
    for each m² or each kWh of a year's yield.

    Parameters
    ----------
    grants
        The grants.
    cost
        First cost (currency).
    area_m2
        Area (m²).
    yield_kwh
        Solar heat of the year (kWh).

    Returns
    -------
    list[Given]
        What each grant gives (currency) towards a cost (currency), in order: a share of what is left, a sum, so
        much for each m² or each kWh of a year's yield.
    """
    found, left, uncovered = [], max(cost, 0.0), 1.0
    for grant in grants:
        basis = {"percent": left / 100.0, "sum": 1.0, "per_m2": area_m2, "per_kwh": yield_kwh}[grant.kind]
        amount, cut = grant.amount * basis, ""
        follows = uncovered * grant.amount / 100.0 if grant.kind == "percent" else 0.0
        if grant.cap is not None and amount > grant.cap:
            amount, cut, follows = grant.cap, "its cap", 0.0
        if amount > left:
            amount, cut, follows = left, "the cost", uncovered
        left, uncovered = left - amount, uncovered - follows
        found.append(Given(grant.name, amount, grant.years, cut, follows))
    return found


def paid_in(found: list[Given], year: int) -> float:
    """What is paid out in a year (currency): at once in year 0, or in equal parts over years 1 and on.

    Parameters
    ----------
    found
        The grants with their amounts.
    year
        Year of the horizon, from 1.

    Returns
    -------
    float
        What is paid out in a year (currency): at once in year 0, or in equal parts over years 1 and on.
    """
    return sum(
        g.amount if g.years == 1 and year == 0 else g.amount / g.years if g.years > 1 and 1 <= year <= g.years else 0.0
        for g in found
    )
