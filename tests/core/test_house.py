"""The house's own conventions, over every module."""

import importlib
import inspect
import pkgutil
import unittest

import hexlet_core


class Names(unittest.TestCase):
    def test_two_classes_never_share_a_name(self) -> None:
        """Two schemas of one name would hide each other in the API, and readers would mix them up."""
        found: dict[str, set[str]] = {}
        for module in pkgutil.walk_packages(hexlet_core.__path__, "hexlet_core."):
            if module.name.rsplit(".", 1)[-1] in ("__main__", "warm"):
                continue
            for name, kind in inspect.getmembers(importlib.import_module(module.name), inspect.isclass):
                if kind.__module__ == module.name and not name.startswith("_"):
                    found.setdefault(name, set()).add(module.name)
        self.assertEqual({n: m for n, m in found.items() if len(m) > 1}, {})
