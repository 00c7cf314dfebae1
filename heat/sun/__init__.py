"""What falls on a tilted plane, and what stands before it.

magnetic  From a compass to true north
mirror    A flat mirror before the collectors, in one facet or several
paths     The sun's path over the sky by date and solar hour, for the sheet on which a horizon is drawn
plane     Sun on a tilted plane
shade     What stands before the sun
site      The sun over a design's site and on its plane, with what shades it
survey    What a survey is for
"""
