"""The log: what was heard and turned, which of it counts now, what a move did, what a tuning came to, what is learned from it.

Frozen records in, plain results out; whoever keeps them (a database, a file) maps its rows to these. The order of a log is its
counter, ``seq``, never a clock's. A voided entry stays and does not count; neither does a late one, made on an older
state of its string than there was when it arrived.
"""
