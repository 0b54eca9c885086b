"""The string in the hands: what was done between two readings of a string, told or not, and how sure that is.

It takes readings, told moves and the steps that were shown, and gives the moves that must have been made, where each string and
its screw stand, and what that teaches; nothing in it knows of screens or of the store. `records` is what is kept of a tuning:
its order is its counter, ``seq``, never a clock's; a voided entry stays and doesn't count, nor does a late one.

It may import `judgement`, `fifths`, `instruments` and `pitch`. Begin with `understood`; `likely` weighs what may have happened,
`interval` says what a reading can tell, `state` and `summary` are what others take from it.
"""
