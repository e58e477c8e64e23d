"""What all tests share: a process that has loaded everything, of which the programs they start are copies."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from tests.support import warm_process


@pytest.fixture(scope="session")
def warm(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """Where copies of it are asked for."""
    with warm_process.serving(tmp_path_factory.mktemp("warm")) as place:
        yield place
