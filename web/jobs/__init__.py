"""Long studies: runs cut into chunks, served in turns by person, workers.

bands       The band of a design's solar fraction, from the last run that asked how sure it is
fair_share  Who is served next
limits      Limits on long work, per person and per firm, so that one sweep does not keep others waiting
models      Questions that take many years to answer
purposes    What each kind of question makes of a design
search      Find the best
services    Runs asked, calculated chunk by chunk, stopped, and read
tasks       Work for workers
"""
