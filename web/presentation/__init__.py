"""What several steps show: drawing, account, tally, cautions.

account       The account of the year, as rows the templates print
accounts      All accounts of a year as a table
acknowledged  Which cautions are open
drawing       The drawing of the system at an hour
kinds         Every kind of system, in few words
moment        The hour the drawing shows
picture       A picture on a sheet of 676 x 600 (SVG units, y downwards)
plumbing      The pipes and vessels of every kind of system, as paths and words on a sheet of 676 x 600 (SVG …
sized         Safety parts sized
sky           The sun-path sheet
tally         The tally below every page, and how each of its figures came about
vessels       The stores of a system cut open
"""
