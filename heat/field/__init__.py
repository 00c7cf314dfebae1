"""After commissioning: what was read at the system, reckoned, held against the design, explained and fitted."""
