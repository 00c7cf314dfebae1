"""Trials of the running application in large: by load, by floods, by what nobody foresaw."""
