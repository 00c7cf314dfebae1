"""A person's price book.

books   Price books kept, changed, taken back, and as tables to take along and bring back
models  A person's price book
"""
