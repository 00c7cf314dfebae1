"""Projects, designs, weather files, edits, versions: models, documents, permissions, services.

archive         A project as one file, taken to another account or machine and brought back
archive_shapes  Files of a taken-along project, as types
climates        Weather where no file is at hand
documents       Design documents as they are kept
models          A project
permissions     The door
timestamps      Moments and days as a project's file may hold them
weather_files   A weather year as a kept file and back
"""
