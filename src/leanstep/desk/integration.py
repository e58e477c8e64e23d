"""Making the program at home on a Linux desk: in the menu, with its icon, opening its files by a double click."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from xml.sax.saxutils import escape

from PySide6.QtCore import QBuffer, QIODevice

from leanstep import __version__, launching
from leanstep.core.character.storage import write_atomically
from leanstep.desk.icon import ID, SIZES, drawn

NAME, MIME = "lean-step", "application/x-leanstep+json"
SUMMARY = "Define, drive and prove how a sprite character behaves"
UPDATES = (("update-mime-database", "mime"), ("update-desktop-database", "applications"))
"""Programs that make the system read what was written, and the folder each reads."""


def data_home() -> Path:
    """The user's folder for data of programs (``XDG_DATA_HOME``)."""
    chosen = os.environ.get("XDG_DATA_HOME", "")
    return Path(chosen) if chosen.startswith("/") else Path.home() / ".local" / "share"


def integrate(command: str | None = None) -> list[Path]:
    """Write everything into the user's folders; ``command`` starts the program (None: as it was started now).

    Raises :class:`LeanStepError` where something cannot be written.
    """
    home, written = data_home(), []
    for place, make in _files(command or _command()):
        path = home / place
        path.parent.mkdir(parents=True, exist_ok=True)
        write_atomically(path, make())
        written.append(path)
    _update(home)
    return written


def take_out() -> list[Path]:
    """Take out what :func:`integrate` wrote."""
    home, gone = data_home(), []
    for place, _ in _files(""):
        path = home / place
        if path.is_file():
            path.unlink()
            gone.append(path)
    _update(home)
    return gone


def _command() -> str:
    """How this program is started."""
    found = Path(sys.argv[0]).absolute() if sys.argv[0].endswith("lean-step-desk") else None
    if found is not None and found.is_file():
        return _quoted(str(found))
    program, *words = launching.words("leanstep.desk.app")
    return " ".join([_quoted(program), *words])


def _quoted(text: str) -> str:
    """A word of a command in a desktop entry."""
    inner = "".join(f"\\{letter}" if letter in '"`$\\' else letter for letter in text).replace("%", "%%")
    return f'"{inner}"'


def _files(command: str) -> Iterator[tuple[str, Callable[[], bytes]]]:
    """What is written, below the folder for data, and what makes it."""
    yield f"applications/{ID}.desktop", lambda: _entry(command).encode()
    yield f"mime/packages/{NAME}.xml", lambda: _mime().encode()
    yield f"metainfo/{ID}.metainfo.xml", lambda: _metainfo().encode()
    for size in SIZES:
        yield f"icons/hicolor/{size}x{size}/apps/{NAME}.png", partial(_png, size, False)
        yield f"icons/hicolor/{size}x{size}/mimetypes/{MIME.replace('/', '-')}.png", partial(_png, size, True)


def _entry(command: str) -> str:
    return f"""[Desktop Entry]
Type=Application
Name=Lean Step
GenericName=Sprite animation
Comment={SUMMARY}
Exec={command} %f
Icon={NAME}
Terminal=false
Categories=Graphics;2DGraphics;
Keywords=sprite;animation;character;state;graph;
MimeType={MIME};
StartupWMClass={NAME}-desk
"""


def _mime() -> str:
    # the first key of a file says what it is; some programs write a mark before it
    return f"""<?xml version="1.0" encoding="UTF-8"?>
<mime-info xmlns="http://www.freedesktop.org/standards/shared-mime-info">
  <mime-type type="{MIME}">
    <comment>Lean Step character</comment>
    <sub-class-of type="application/json"/>
    <glob pattern="*.leanstep"/>
    <magic priority="60">
      <match type="string" offset="0:3" value="{{">
        <match type="string" offset="1:64" value="&quot;leanstep&quot;:"/>
      </match>
    </magic>
  </mime-type>
</mime-info>
"""


def _metainfo() -> str:
    return f"""<?xml version="1.0" encoding="UTF-8"?>
<component type="desktop-application">
  <id>{ID}</id>
  <metadata_license>MIT</metadata_license>
  <project_license>MIT</project_license>
  <name>Lean Step</name>
  <summary>{escape(SUMMARY)}</summary>
  <developer id="org.leanstep"><name>Lean Step</name></developer>
  <description>
    <p>Sprite sheets are cut into frames, frames become clips, clips are arranged by speed and direction, and states are put into
    a graph with conditions that say when one gives way to another. The character can be steered at any time, and it is proved
    which states nobody can reach, which nobody can leave, and which pictures flicker.</p>
  </description>
  <launchable type="desktop-id">{ID}.desktop</launchable>
  <provides><binary>{NAME}-desk</binary><mediatype>{MIME}</mediatype></provides>
  <categories><category>Graphics</category><category>2DGraphics</category></categories>
  <content_rating type="oars-1.1"/>
  <releases><release version="{__version__}" date="2026-11-28"/></releases>
</component>
"""


def _png(size: int, document: bool) -> bytes:
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    drawn(size, document).save(buffer, "PNG")  # type: ignore[call-overload]
    return bytes(buffer.data().data())


def _update(home: Path) -> None:
    """Let the system read what was written, as far as its programs are there."""
    for program, folder in UPDATES:
        if shutil.which(program) and (home / folder).is_dir():
            subprocess.run([program, str(home / folder)], capture_output=True, check=False, timeout=60)
