"""Ink: lines that take colour."""
