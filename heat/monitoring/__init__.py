"""After commissioning: what was read at the system, calculated, held against the design, explained and fitted."""
