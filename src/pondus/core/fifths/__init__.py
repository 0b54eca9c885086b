"""Fifths: beats and widths, tapped beats, the chain of an instrument's strings from A and the move that mends most, ensembles.

It may import `judgement`, `instruments` and `pitch`. Begin with `beats`; `chain` is the arithmetic behind the fifths' page.
"""
