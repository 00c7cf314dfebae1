"""Backup, restore, and whether all is well.

backups  Everything that is kept, as one file and back
checks   Whether all is well
"""
