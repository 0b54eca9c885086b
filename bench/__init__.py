"""Benchmarks of Pondus; `bin/pondus bench NAME` runs one and prints figures."""
