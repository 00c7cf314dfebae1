"""Pipes and exchangers between collector and store, and flow without a pump.

circulation  Flow without a pump
coil         An internal coil
fields       Loss and contents of a pipe as the design document describes it
pipe         Pipes
plate        An exchanger beside the store
runs         A design's pipes as runs of the loop, and the heat its fluid carries
stove        A fire's water jacket and its store
"""
