"""Passes: the kinds of layer over a base, and the methods that give them their colours."""
