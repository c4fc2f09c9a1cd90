"""The recipe: everything a person decided about a piece."""
