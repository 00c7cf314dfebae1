"""A plant of its own: physics that share no code with the engine, given the same designs, weather, litres and cold
water, read by sensors as bad as real ones. It is what the diagnosis is judged by."""
