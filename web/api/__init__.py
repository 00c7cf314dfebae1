"""The interface for programs: keys instead of sessions, the same services.

addresses    What the addresses of the interface have in common
endpoints    The interface for programs
permissions  Who asks by a program
reports      Readings that come in, and reports
schemas      What goes in and comes out, as the document of the interface describes it
views        The interface's own page
"""
