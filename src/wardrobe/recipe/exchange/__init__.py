"""Pieces and pictures out and in: archives, layered files, sheets, cards."""
