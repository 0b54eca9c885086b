"""Pondus: tunes student violins, violas and cellos to their open strings."""
