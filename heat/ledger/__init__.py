"""The ledger: accounts of heat, whether every hour closes, and what a year adds up to.

accounts       The accounts
closure        Do the hours close? Every balance of the books, summed for each hour in one compiled pass
events         What happened in the year's hours, read from the books
without_solar  The same house without solar
year_book      The ledger
"""
