"""Fluid, pipes and exchanger between collector and store."""
