"""What keeps the fast engine from being there is said, with its reason."""

from __future__ import annotations

import pytest

from leanstep import launching
from leanstep.core.rehearsal import engine_readiness
from leanstep.desk.app import make_app
from leanstep.desk.warming import Warming
from tests.interface.test_sheets import wait_until


def test_a_compiler_that_fails_is_told_with_its_last_words(monkeypatch: pytest.MonkeyPatch) -> None:
    make_app()
    program, *_ = launching.words("leanstep.warm")
    monkeypatch.setattr(launching, "words", lambda _: [program, "-c", "raise SystemExit('no room on the disk')"])
    warming, said = Warming(), list[str]()
    warming.said.connect(said.append)
    warming.start()
    wait_until(lambda: len(said) > 1, "what went wrong")
    assert warming.reason == "no room on the disk"
    assert said[1:] == ["The fast engine could not be compiled (no room on the disk); takes are played more slowly."]


def test_what_cannot_be_loaded_is_told_with_its_reason(monkeypatch: pytest.MonkeyPatch) -> None:
    make_app()

    def fails() -> None:
        raise OSError("torn")

    monkeypatch.setattr("leanstep.warm.load", fails)
    monkeypatch.setattr(engine_readiness, "is_ready", lambda: False)
    warming, said = Warming(), list[str]()
    warming.said.connect(said.append)
    warming._compiled(0)
    wait_until(lambda: bool(said), "what went wrong")
    assert "torn" in warming.reason and "torn" in said[0] and len(said) == 1
