# SPDX-License-Identifier: GPL-3.0-or-later
"""Write the man page and the shell completion, both made from the command line's own parser.

    python packaging/man.py FOLDER

Needs argparse-manpage and shtab, which packaging/build installs for itself.
"""

from __future__ import annotations

import gzip
import sys
from pathlib import Path

import shtab
from argparse_manpage.manpage import Manpage

from gravidon import __version__
from gravidon.cli.main import build_parser


def main(folder: Path) -> None:
    """Write share/man and share/bash-completion under a folder."""
    parser = build_parser()
    page = folder / "share/man/man1/gravidon.1.gz"
    page.parent.mkdir(parents=True, exist_ok=True)
    made = Manpage(parser)
    made.source, made.manual = f"gravidon {__version__}", "Gravidon"
    page.write_bytes(gzip.compress(str(made).encode("utf-8"), mtime=0))
    completion = folder / "share/bash-completion/completions/gravidon"
    completion.parent.mkdir(parents=True, exist_ok=True)
    completion.write_text(shtab.complete(build_parser(), "bash"), encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
