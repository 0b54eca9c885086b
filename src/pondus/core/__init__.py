"""The rules and the computation of Pondus.

Pure functions and frozen dataclasses over numpy and scipy. Nothing here reads a file, a clock,
a database or a request, and nothing here imports from outside ``pondus.core``; a test holds it to that.
Cents are signed everywhere: negative is flat of the target, positive is sharp of it.
"""
