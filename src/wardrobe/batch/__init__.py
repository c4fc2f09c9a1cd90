"""Stages of work over many pictures: on the cores of this machine, or on a cluster."""
