"""The commands that an installation puts on the path; each begins by looking for modules in its own places only."""

from __future__ import annotations

from leanstep.launching import guard


def command() -> None:
    """The command ``lean-step``."""
    guard()
    from leanstep.cli.main import main

    main()


def window() -> None:
    """The command ``lean-step-desk``."""
    guard()
    from leanstep.desk.app import main

    main()
