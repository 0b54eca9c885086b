"""The log: what is kept of a tuning, and which of it counts.

Frozen records; whoever keeps them (a database, a file) maps its rows to these. The order of a log is its counter, ``seq``,
never a clock's. A voided entry stays and does not count; neither does a late one, made on an older state of its string than
there was when it arrived. It may import `judgement`'s words for what was heard and turned; what reasons about entries is
`hands`.
"""
