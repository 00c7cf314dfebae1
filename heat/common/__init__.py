"""What several parts of the core share: calendar, compiling, tables of text, fluids."""
