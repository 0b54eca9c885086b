"""What Pondus keeps, in PostgreSQL through SQLModel.

Readings and moves are never edited, only struck out with a reason. Every record's id is made by the client, so a
request sent twice is stored once.
"""
