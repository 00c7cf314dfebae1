"""Parts to choose from: shipped and a person's own; the builder's bench.

bench     What the bench shows
models    A person's own entries of the catalogue
services  Writes of the catalogue
views     The catalogue's pages
"""
