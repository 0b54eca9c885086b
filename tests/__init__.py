"""Tests of Pondus; run them with `bin/pondus test`."""
