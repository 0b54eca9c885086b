"""Stand-ins for wood and microphone: sounds of known pitch, and the instrument that makes them.

It may import `judgement`, `instruments`, `pitch` and the climate of `upkeep`. Begin with `wood`: what is true of an instrument.
"""
