"""The page round every step: registry, routes, projects, edits, presence, comments, history.

actions      What a page's buttons do, each by its name
comments     Comments as a page shows them
concurrency  Turns
firms        Firms on the page
glossary     The glossary
history      Who did what when
links        Links that are taken up once
people       The people of a project
presence     Several people in one project
projects     A person's projects
registry     The steps of the work in their order, from ``settings.STEPS``
routes       Addresses
shell        The page round every step
tabs         The designs of a project as tabs with their solar fractions
views        What every step shares
"""
