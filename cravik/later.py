"""Importing a module when something of it is first used, for what a command seldom needs and takes long to import.

The server imports everything before it answers anybody (``load_application``), so no request waits for it, and no two
threads import at once.
"""

from __future__ import annotations

import importlib.util
import sys
from typing import Any


def later(name: str) -> Any:
    """The module of that dotted name, imported at the first look at one of its names.

    Raises ``ImportError`` where there is none.
    """
    if name in sys.modules:
        return sys.modules[name]
    spec = importlib.util.find_spec(name)
    if spec is None or spec.loader is None:
        raise ImportError(f"There is no module {name}.", name=name)
    spec.loader = importlib.util.LazyLoader(spec.loader)
    module = importlib.util.module_from_spec(spec)
    sys.modules[name] = module
    # As an import does: whoever writes ``import a.b`` looks for ``b`` at ``a``.
    package, _, own_name = name.rpartition(".")
    if package:
        setattr(sys.modules[package], own_name, module)
    spec.loader.exec_module(module)
    return module
