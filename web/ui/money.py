"""Currencies by their codes: sign, decimals, name, and amounts as they are written. Data: CLDR through Babel."""

from functools import cache

from babel.core import get_global
from babel.numbers import get_currency_name, get_currency_precision, get_currency_symbol

from web.ui import units

LOCALE = "en"
NARROW = "\u202f"


@cache
def currencies() -> tuple[tuple[str, str], ...]:
    """Every currency that is paid with today: its code, and what it is called."""
    now = {
        code
        for by_territory in get_global("territory_currencies").values()
        for code, _from, to, tender in by_territory
        if to is None and tender
    }
    return tuple((code, f"{code}, {get_currency_name(code, locale=LOCALE)}") for code in sorted(now))


@cache
def sign_of(code: str) -> str:
    """The sign of a currency, its code where it has none."""
    return get_currency_symbol(code, locale=LOCALE)


@cache
def places(code: str) -> int:
    """Decimals of a currency's smallest coin."""
    return int(get_currency_precision(code))


def amount_text(value: float, code: str, decimals: int = 0) -> str:
    """An amount with its sign: before it for those who write 1,500.5, else after it."""
    number, sign = units.number(value, min(decimals, places(code)) if decimals == 2 else decimals), sign_of(code)
    if units.writing.get() != "point":
        return f"{number} {sign}"
    minus, digits = ("−", number[1:]) if number.startswith("−") else ("", number)
    return f"{minus}{sign}{NARROW if sign[-1:].isalpha() else ''}{digits}"
