"""What a page is: its state, its design, fields, typed values, edits, uploads; what a step declares.

design_page  What a page shows
edits        From what was typed or chosen to a change of the document, or to a refusal in its place
fields       One editable value as the page shows it
step         What a step is
tables       Telling what the columns of an uploaded table hold
typed        Reading what a person types
uploads      A file that is posted
view_state   What a page shows of a design
"""
