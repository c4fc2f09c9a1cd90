"""Broken runs, hostile files and impatient clients, with figures: ``make torture``."""
