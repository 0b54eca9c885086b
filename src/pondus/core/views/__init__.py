"""What the screens and the paper show of all that: the bench, the fifths, cards, choices, and who may see what.

It may import every other room of the core but `practice` and `simulated`, and none imports it. Begin with `bench`.
"""
