"""Parts carried from one drawing of a character to the next."""
