"""Rules and correlations to size by, set against the simulated year."""
