"""What a new project is paid in: the currency of its place, and the starting prices at a rough rate."""

from functools import cache

from babel import Locale
from babel.core import get_global

from heat.common.documents import Values
from heat.design.money import FUELS, Money

ROUGH_RATES = {
    "AED": 4.0, "ARS": 1500, "AUD": 1.7, "BGN": 1.95, "BRL": 6.0, "CAD": 1.6, "CHF": 0.95, "CLP": 1050, "CNY": 8.0,
    "COP": 4500, "CZK": 25, "DKK": 7.5, "EGP": 55, "EUR": 1.0, "GBP": 0.85, "HUF": 400, "IDR": 18_000, "ILS": 4.0,
    "INR": 95, "JPY": 165, "KES": 145, "KRW": 1600, "MAD": 10.5, "MXN": 21, "MYR": 4.9, "NGN": 1700, "NOK": 11.5,
    "NZD": 1.9, "PEN": 4.2, "PHP": 65, "PKR": 320, "PLN": 4.3, "RON": 5.0, "RSD": 117, "RUB": 95, "SAR": 4.2,
    "SEK": 11, "SGD": 1.5, "THB": 38, "TND": 3.4, "TRY": 45, "TWD": 35, "TZS": 2900, "UAH": 47, "USD": 1.1,
    "VND": 28_000, "ZAR": 20,
}  # fmt: skip
"""What a euro is in other currencies, rounded. Source: exchange rates of 2025; they only put made-up prices into the
right order of size, and each is typed over."""


@cache
def _codes() -> dict[str, str]:
    """Territory codes by the names of countries in English."""
    return {name: code for code, name in Locale("en").territories.items() if len(code) == 2 and code.isalpha()}


def currency_there(place: str) -> str | None:
    """The currency, by its code, of a place in words that end with its country; None where that is not known."""
    country = _codes().get(place.rpartition(",")[2].strip())
    kinds = get_global("territory_currencies").get(country, ()) if country else ()
    return next((str(code) for code, _since, until, tender in kinds if tender and until is None), None)


def local_money(place: str, book: str) -> Values:
    """The values of a new project's money (by path) at a place, its price book in the currency ``book``: the place's
    own currency and the starting prices in it; nothing where either rate is not known."""
    code = currency_there(place)
    if code is None or code not in ROUGH_RATES or book not in ROUGH_RATES:
        return {}
    rate, usual = ROUGH_RATES[code], Money()
    paid = lambda value: float(f"{value * rate:.2g}")
    fuels = [
        {**fuel.model_dump(), "price_kwh": paid(fuel.price_kwh), "standing": paid(fuel.standing)} for fuel in FUELS
    ]
    return {
        "money.currency": code,
        "money.book_rate": round(rate / ROUGH_RATES[book], 4),
        "money.pump_price_kwh": paid(usual.pump_price_kwh),
        "money.inspection": paid(usual.inspection),
        "money.fuels": fuels if rate != 1.0 else [fuel.model_dump() for fuel in FUELS],
    }
