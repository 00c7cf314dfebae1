"""What the absorber keeps of the sun."""
