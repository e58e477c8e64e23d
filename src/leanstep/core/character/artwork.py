"""Where the images of a character lie: beside its file, or where whoever draws them keeps them."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path, PurePosixPath

import msgspec

from leanstep.core.character.document import Character
from leanstep.core.character.sheets import Sheet
from leanstep.core.character.storage import is_file, make_folder, read_bytes, write_atomically


def lies_elsewhere(image: str) -> bool:
    """Whether an image, by its path relative to the file, lies outside the file's folder."""
    return PurePosixPath(image).parts[:1] == ("..",)


def path_to(image: Path, folder: Path) -> str:
    """The path of an image relative to a character's folder, with which a sheet refers to it where it lies; that of a copy where
    a file cannot hold the path.

    Raises
    ------
    LeanStepError : it has to be copied, and cannot be read or written.
    """
    found = Path(os.path.relpath(image.resolve(), folder.resolve())).as_posix()
    return _copied(found, folder) if set(found) & set("\\:") else found


def copied_in(sheet: Sheet, folder: Path) -> Sheet:
    """A sheet whose images are copied into the character's folder, as far as they lie elsewhere; none that is there already is
    written over.

    Raises
    ------
    LeanStepError : one of them cannot be read or written.
    """
    return _with_images(sheet, lambda image: _copied(image, folder) if lies_elsewhere(image) else image)


def _copied(image: str, folder: Path) -> str:
    source = folder / image
    data = read_bytes(source)
    target, number = folder / "art" / source.name, 2
    while is_file(target) and read_bytes(target) != data:
        target = folder / "art" / f"{source.stem}-{number}{source.suffix}"
        number += 1
    make_folder(target.parent)
    if not is_file(target):
        write_atomically(target, data)
    return target.relative_to(folder).as_posix()


def copy_images(character: Character, source: Path, target: Path) -> None:
    """Copy the images beside a file that moves to another folder; images already there stay as they are, and what lies elsewhere
    stays where it is."""
    for image in (image for sheet in character.sheets for image in sheet.all_images):
        old, new = source / image, target / image
        if image and not lies_elsewhere(image) and is_file(old) and not is_file(new):
            make_folder(new.parent)
            write_atomically(new, read_bytes(old))


def moved(character: Character, source: Path, target: Path) -> Character:
    """A character whose file moves to another folder, with the paths from there to the images that lie elsewhere."""
    old, new = source.resolve(), target.resolve()

    def seen_from_there(image: str) -> str:
        return Path(os.path.relpath(old / image, new)).as_posix() if lies_elsewhere(image) else image

    sheets = tuple(_with_images(sheet, seen_from_there) for sheet in character.sheets)
    return character if sheets == character.sheets else msgspec.structs.replace(character, sheets=sheets)


def _with_images(sheet: Sheet, change: Callable[[str], str]) -> Sheet:
    images = [change(image) for image in sheet.all_images]
    if not images:
        return sheet
    return msgspec.structs.replace(sheet, image=images[0], images=tuple(images[1:]))
