# SPDX-License-Identifier: GPL-3.0-or-later
"""Logs in the measurement data format (MF4, MDF of ASAM) as the text of a CSV, by an optional library."""

from __future__ import annotations

import io
import warnings
from pathlib import Path

from gravidon.errors import PlanFileError
from gravidon.translate import tr

SUFFIXES = (".mf4", ".mdf")
NEEDS = tr("reading it needs the extra: pip install 'gravidon[mdf]'; or let your logger's program export CSV")


def is_mf4(path: Path) -> bool:
    """Return whether a file's name says that it is one."""
    return path.suffix.lower() in SUFFIXES


def text_of_mf4(path: Path) -> str:
    """Return every channel of numbers as CSV: seconds from the start, then the channels with their units, at the times of
    all, linear between samples.

    Raises: PlanFileError if the library is not there, or the file cannot be read.
    """
    try:
        import asammdf
    except ImportError as error:
        raise PlanFileError(f"{path.name}: {NEEDS}") from error
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            return _table(asammdf.MDF(path))
    except OSError as error:
        raise PlanFileError(
            tr("{name} cannot be read: {why}").format(name=path.name, why=error.strerror or error)
        ) from error
    except Exception as error:  # the library names no errors of its own; what it says is told
        raise PlanFileError(
            tr("{name} is not a whole MF4 file ({error})").format(name=path.name, error=error)
        ) from error


def _table(file: object) -> str:
    with file as mdf:  # type: ignore[attr-defined]
        units = {s.name: s.unit for s in mdf.iter_channels(skip_master=True)}
        frame = mdf.to_dataframe(time_from_zero=True, use_interpolation=True).select_dtypes("number")
    if frame.empty:
        raise ValueError("it holds no channel of numbers")
    frame.columns = [f"{name} [{units[name]}]" if units.get(name) else name for name in frame.columns]
    frame.index.name = "time [s]"
    text = io.StringIO()
    frame.to_csv(text, float_format="%.9g", lineterminator="\n")
    return text.getvalue()
