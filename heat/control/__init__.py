"""When the pump runs.

differential  Differential control
timetable     When things may run
"""
