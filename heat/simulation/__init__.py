"""The compiled loop over the hours: what it reads (parts), its steps (loop, uses), and the pass (hours)."""
