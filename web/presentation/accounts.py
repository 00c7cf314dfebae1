"""All accounts of a year as a table."""

from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT
from web.editor.design_page import DesignPage
from web.ui.calendar import MONTHS

BOUGHT_OR_UNMET = {*BOUGHT, acc.UNMET}


def accounts_csv(page: DesignPage) -> str:
    """Every account by month (kWh, full precision), a line each."""
    book = page.year.book
    lines = ["account,words," + ",".join(MONTHS) + ",year"]
    for column, name in enumerate(acc.NAMES):
        months = book.months[:, column]
        values = ",".join(repr(float(v)) for v in (*months, months.sum()))
        lines.append(f'{name},"{acc.ACCOUNTS[name]}",{values}')
    return "\n".join(lines) + "\n"
