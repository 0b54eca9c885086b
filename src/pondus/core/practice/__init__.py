"""Practice: drills that run on the same rules as the advice, how hard they are made, and what a player has shown by them.

Nothing here knows the time or throws dice: days and seeds come in, and the same drill, seed and answers give the same course.

It may import `simulated` and what lies below it. Begin with `drills`, the one table, and `run`, a go.
"""
