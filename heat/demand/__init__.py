"""Litres at the tap, hour by hour."""
