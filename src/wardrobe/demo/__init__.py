"""The demo: the kite post of the Sallow Terraces, drawn for this project as vector curves."""
