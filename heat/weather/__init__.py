"""Read, check and hold a typical year."""
