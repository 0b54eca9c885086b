"""A group: instruments sorted by what they need, who does which in which order, people and what they may turn.

It may import `hands` and what lies below it. Begin with `triage`, which sorts; `schedule` plans a morning near a proven bound.
"""
