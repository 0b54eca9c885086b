"""Importing this loads all of the server's code: for a process from which servers are started by fork, one after another."""

from pondus.running.server import load_code

load_code()
