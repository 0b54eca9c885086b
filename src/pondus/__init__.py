"""Pondus: tunes student violins, violas and cellos to their open strings."""

__version__ = "0.2.0"
