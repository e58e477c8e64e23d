"""What all tests share: a process that has loaded everything, of which the programs they start are copies."""

from __future__ import annotations

import os
from collections import Counter
from collections.abc import Iterator

import pytest

from tests.support import warm_process

WHOLE = any(os.environ.get(name) == "1" for name in ("LEANSTEP_WHOLE", "LEANSTEP_LONG"))
"""Whether everything is tried: what is marked ``long``, too."""


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Leave out what is marked ``long``, ``but`` for the first cases of a test."""
    if WHOLE or _named(config):
        return
    seen = Counter[str]()
    kept, left = list[pytest.Item](), list[pytest.Item]()
    for item in items:
        mark = item.get_closest_marker("long")
        case = item.nodeid.partition("[")[0]
        seen[case] += 1
        (kept if mark is None or seen[case] <= mark.kwargs.get("but", 0) else left).append(item)
    items[:] = kept
    if left:
        config.hook.pytest_deselected(items=left)


def _named(config: pytest.Config) -> bool:
    """Whether what is to be tried was named: a file or a test, not the suite."""
    return any(part.partition("::")[0].endswith(".py") for part in config.args)


@pytest.fixture(scope="session")
def warm(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """Where copies of it are asked for."""
    with warm_process.serving(tmp_path_factory.mktemp("warm")) as place:
        yield place
