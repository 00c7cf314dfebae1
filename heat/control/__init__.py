"""When the pump runs."""
