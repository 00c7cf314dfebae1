"""Layers of water."""
