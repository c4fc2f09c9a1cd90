"""Lessons whose answer is known: solids under a light, and how near a drawn answer comes."""
