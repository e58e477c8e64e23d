"""How long platformers with buffers, holds and cooldowns take to check, and what is decided: ``python -m benchmarks.proofs``."""

from __future__ import annotations

import time

from benchmarks import sized
from benchmarks.platformers import platformer
from leanstep.core.findings.report import check_character

COUNT = sized(60, 2)


def main() -> None:
    """Print the figures."""
    check_character(platformer(9))
    seconds, whole, undecided, found = [], 0, 0, 0
    for number in range(COUNT):
        begun = time.perf_counter()
        report = check_character(platformer(number))
        seconds.append(time.perf_counter() - begun)
        whole += report.complete
        undecided += sum(one.verdict == "undecided" for one in report.findings)
        found += len(report.findings)
    seconds.sort()
    print(f"{COUNT} platformers: {whole} decided in full, {undecided} of {found} findings undecided")
    print(
        f"half of them in {seconds[COUNT // 2]:.2f} s, nine of ten in {seconds[COUNT * 9 // 10]:.2f} s, all in {seconds[-1]:.2f} s"
    )


if __name__ == "__main__":
    main()
