# SPDX-License-Identifier: GPL-3.0-or-later
"""`gravidon --uninstall-user-data`: what the program keeps for a user, said first, removed if the user agrees."""

from __future__ import annotations

import shutil
import sys
from pathlib import Path

from platformdirs import user_config_path, user_data_path, user_state_path

from gravidon.cli.main import OK, UNUSABLE
from gravidon.translate import tr

WORDS = {
    "settings": tr("preferences, recent files"),
    "state": tr("work a crash left, logbooks of plans never saved, the trainer's record"),
    "environment": tr("the private environment of a checkout that could not be written to"),
}


def folders() -> tuple[tuple[str, Path], ...]:
    """Return what there is: in words, and where; plans and logbooks beside them are the user's own and not among it."""
    known = (
        (WORDS["settings"], user_config_path("gravidon")),
        (WORDS["state"], user_state_path("gravidon")),
        (WORDS["environment"], user_data_path("gravidon")),
    )
    return tuple((words, path) for words, path in known if path.is_dir())


def size_of(folder: Path) -> int:
    """Return how many bytes a folder holds; links count as themselves."""
    return sum(p.lstat().st_size for p in folder.rglob("*") if not p.is_dir() or p.is_symlink())


def uninstall(agreed: bool) -> int:
    """Say what would be removed, ask unless it is agreed to, remove it; return the exit status."""
    there = folders()
    if not there:
        print(tr("Nothing of Gravidon's is kept for this user."))
        return OK
    print(tr("This would be removed (plans, and logbooks beside them, stay):"))
    for words, path in there:
        print(f"  {path}  ({size_of(path) / 1e6:.1f} MB: {words})")
    if not agreed:
        if not sys.stdin.isatty():
            print(tr("Nothing was removed. Add --yes to remove it."))
            return OK
        if input(tr("Remove it? [y/N] ")).strip().lower() not in ("y", "yes", tr("y"), tr("yes")):
            print(tr("Nothing was removed."))
            return OK
    for _, path in there:
        try:
            shutil.rmtree(path)
        except OSError as error:
            print(
                tr("gravidon: {path} cannot be removed: {why}").format(
                    path=path, why=error.strerror or error
                ),
                file=sys.stderr,
            )
            return UNUSABLE
        print(tr("removed {path}").format(path=path))
    return OK
