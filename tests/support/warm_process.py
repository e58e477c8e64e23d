"""Programs of ours that tests start, as copies of a process that has loaded everything already.

A program that checks something loads for some three seconds before it does; a test process starts one server that has, and
everything it starts is a copy of that one: a process of its own, with its own environment, folder, input and output.
"""

from __future__ import annotations

import array
import importlib
import json
import os
import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path


def serve(place: str) -> None:
    """Load everything, then make a copy for each program that is asked for, until the one who started this is gone."""
    from leanstep import warm

    for module in (
        "leanstep.cli.main",
        "leanstep.cli.worker",
        "leanstep.core.formats.handover",
        "leanstep.core.formats.html",
    ):
        importlib.import_module(module)
    warm.load()
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)
    parent = os.getppid()
    with socket.socket(socket.AF_UNIX) as server:
        server.bind(place)
        server.listen(16)
        server.settimeout(5.0)
        while os.getppid() == parent:
            try:
                asked, _ = server.accept()
            except TimeoutError:
                continue
            if os.fork() == 0:
                server.close()
                _be(asked)
            asked.close()


def _be(asked: socket.socket) -> None:
    """Be the program that is asked for, and say how it ended."""
    asked.settimeout(None)
    text, ancillary, _, _ = asked.recvmsg(4, socket.CMSG_SPACE(3 * 4))
    files = array.array("i")
    files.frombytes(ancillary[0][2])
    for number, file in enumerate(files):
        os.dup2(file, number)
        os.close(file)
    rest = bytearray()
    while len(rest) < int.from_bytes(text, "big"):
        rest += asked.recv(65536)
    wanted = json.loads(rest)
    os.environ.clear()
    os.environ.update(wanted["environment"])
    os.chdir(wanted["folder"])
    signal.signal(signal.SIGCHLD, signal.SIG_DFL)
    for name, mode in (("stdin", "r"), ("stdout", "w"), ("stderr", "w")):
        number = ("stdin", "stdout", "stderr").index(name)
        setattr(sys, name, open(number, mode, encoding="utf-8", closefd=False))  # noqa: SIM115
    sys.argv = wanted["words"]
    code = 0
    try:
        importlib.import_module(sys.argv[0]).main()
    except SystemExit as ended:
        code = ended.code if isinstance(ended.code, int) else 0 if ended.code is None else 1
        if isinstance(ended.code, str):
            print(ended.code, file=sys.stderr)
    except BaseException:
        import traceback

        traceback.print_exc()
        code = 1
    sys.stdout.flush()
    sys.stderr.flush()
    asked.sendall(bytes([code]))
    os._exit(code)


def ask(place: str, words: list[str], files: tuple[int, int, int]) -> int:
    """Have a program run with these files as its input, output and errors, and wait until it has ended: its exit code, 255 where it
    was killed."""
    with socket.socket(socket.AF_UNIX) as asked:
        asked.connect(place)
        told = json.dumps({"environment": dict(os.environ), "folder": os.getcwd(), "words": words}).encode()
        asked.sendmsg(
            [len(told).to_bytes(4, "big")], [(socket.SOL_SOCKET, socket.SCM_RIGHTS, array.array("i", files).tobytes())]
        )
        asked.sendall(told)
        return (asked.recv(1) or b"\xff")[0]


def relayed(place: str, module: str) -> list[str]:
    """The command that is a copy of a program in a process of its own, for those who start programs by a command."""
    return [sys.executable, "-E", "-S", str(Path(__file__)), place, module]


def run(place: str, module: str, *words: object) -> subprocess.CompletedProcess[str]:
    """A program as a copy, run to its end."""
    with tempfile.TemporaryFile("w+") as out, tempfile.TemporaryFile("w+") as err, open(os.devnull) as nothing:
        code = ask(place, [module, *map(str, words)], (nothing.fileno(), out.fileno(), err.fileno()))
        out.seek(0)
        err.seek(0)
        return subprocess.CompletedProcess([module], code, out.read(), err.read())


@contextmanager
def serving(folder: Path) -> Iterator[str]:
    """A server for as long as this lasts: where it is asked."""
    place = str(folder / "warm")
    server = subprocess.Popen(
        [sys.executable, "-c", f"from tests.support.warm_process import serve; serve({place!r})"],
        stdin=subprocess.DEVNULL,
        cwd=Path(__file__).parents[2],
    )
    try:
        while not os.path.exists(place) and server.poll() is None:
            time.sleep(0.02)
        yield place
    finally:
        server.kill()
        server.wait()


if __name__ == "__main__":
    sys.exit(ask(sys.argv[1], sys.argv[2:], (0, 1, 2)))
