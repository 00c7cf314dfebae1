"""A plant of its own: a program that shares nothing with the engine but the weather, read by sensors as bad as real
ones. It is what the diagnosis is judged by."""
