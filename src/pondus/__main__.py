"""`python -m pondus`."""

from pondus.cli import main

main()
