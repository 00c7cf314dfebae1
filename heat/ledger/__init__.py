"""The ledger: accounts of heat, whether every hour closes, and what a year adds up to."""
