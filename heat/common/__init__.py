"""What several parts of the core share.

calendar   Which hour of the day, day and month each of the year's 8,760 hours belongs to
compiled   The one door to numba
documents  Designs as JSON objects, and a value at its path
fluid      Heat-transfer fluids
tables     Guessing how a table of text is laid out
"""
