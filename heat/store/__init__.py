"""Layers of water, their ports, and a pool.

layers  A layered store
pool    A pool as a store
ports   Water through ports
vessel  A store as a vessel
"""
