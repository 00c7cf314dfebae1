"""Money: what a design costs, what it saves, and what becomes of it over the years."""
