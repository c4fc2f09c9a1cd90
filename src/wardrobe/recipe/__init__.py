"""The piece as a document: its recipe, the edits that change it, and what is derived from it."""
