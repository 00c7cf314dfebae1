"""The only way from the web to simulated years: by content, cached.

beside   The figures of a year that are held beside those of others, kept while they are asked for
cache    The only door from the web to simulated years
planes   Sun on planes in a weather year
rough    What the uncertainty of a rough climate makes of a design's fraction
tallies  Small figures of a design's year, kept with the design under the key of what they come from
weather  Weather years by what a file holds, kept a while
"""
