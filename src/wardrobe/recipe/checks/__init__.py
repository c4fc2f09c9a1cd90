"""What a piece is checked for: one registry of checks, one kind of finding."""

from wardrobe.recipe.checks.table import CHECKS, QUESTIONS

__all__ = ["CHECKS", "QUESTIONS"]
