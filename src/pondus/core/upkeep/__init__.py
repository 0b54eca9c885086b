"""Upkeep: strings' lives, faults and referrals, the room's air, pegs that gave way, what the nights do and tomorrow's forecast.

It may import `hands` and what lies below it. Begin with `ledger`, which says of each string what the weeks did to it.
"""
