"""Units, components, pictures, texts, spreadsheets, styles, scripts, glossary.

blanks        Values of a part as blanks of a form, in the reader's units
calendar      Days of the year as people write them
exclusive     Heavy work done one at a time on this machine, across processes and threads
glossary      The words of the trade as the application uses them
money         Currencies by their codes
origin        Where this server is found from outside
pictures      Pictures as they are taken in
png           A tiny picture from an array of shades, as a data address
spreadsheets  Spreadsheets (Office Open XML) written and read
storage       Static files under names with their hash
texts         The one cleaner of texts on their way to the database, and the fields that put each through it
units         Units of display
"""
