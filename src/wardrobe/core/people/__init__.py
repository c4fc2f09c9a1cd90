"""Whom a drawing shows: skin, hair, eyes and mouth."""
