"""Where the sun stands and what falls on a tilted plane."""
