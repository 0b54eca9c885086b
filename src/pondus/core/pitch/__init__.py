"""Pitch: notes, cents and Hz, how notes are called, and a reference tone's partials.

It may import the modules at the core's root and nothing else. Begin with `notes`.
"""
