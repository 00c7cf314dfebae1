"""Weighing many designs: plans of combinations, what decides, how sure, and the search for the best."""
