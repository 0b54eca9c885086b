"""Every example in a docstring of the core, the contracts and the lists runs."""

import doctest
import importlib
import pkgutil
import unittest

import pondus.contracts
import pondus.core
import pondus.lists


def load_tests(loader: unittest.TestLoader, tests: unittest.TestSuite, pattern: str | None) -> unittest.TestSuite:
    for package in (pondus.core, pondus.contracts, pondus.lists):
        for found in pkgutil.walk_packages(package.__path__, package.__name__ + "."):
            module = importlib.import_module(found.name)
            suite = doctest.DocTestSuite(module)
            if suite.countTestCases():
                tests.addTests(suite)
    return tests
