"""The string in the hands: what was done between two readings of a string, told or not, and how sure that is.

It takes readings, told moves and the steps that were shown, and gives the moves that must have been made, where each string and
its screw stand, and what that teaches; nothing in it knows of screens or of the store. It may import `judgement`, `mechanics`,
`pitch` and the records of `log`. Begin with `understood`; `likely` weighs what may have happened, `interval` says what a
reading can tell, `state` and `summary` are what others take from it.
"""
