"""Towns by name, coordinates as typed.

coordinates  Reading coordinates as a person types them
models       Towns of the world, to find a place by its name
towns        Finding a town by its name
views        Towns for what is being typed
where        From what a person types of a place to where it lies
words        Names as they are searched
"""
