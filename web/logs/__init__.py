"""Readings of built systems, photographs, meters, maintenance; what a data logger posts.

archive   A project's logs taken along with its file, and brought back
models    What was read at a system after it was commissioned
reading   From readings kept in the database to the core's log, and the years and days it is held against
services  Logs begun, readings added and struck out, photographs, meters, a logger's key
stand_in  A stand-in for a data logger
upkeep    Upkeep of a project
views     What a data logger posts, and the calendar of a project's upkeep
"""
