# SPDX-License-Identifier: GPL-3.0-or-later
"""The order list as CSV."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable

from gravidon.cells import cell
from gravidon.study.making.parts_list import Need, by_length

COLUMNS = ("part", "id", "needed", "spare", "on hand", "to order", "unit", "price each", "cost", "for")


def order_csv(rows: Iterable[Need]) -> str:
    """Return the list with what is needed, on hand and to order."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for n in rows:
        unit = "m" if by_length(n.part) else "piece"
        writer.writerow(
            [
                cell(n.part.name),
                cell(n.part.id),
                f"{n.count:.2f}",
                f"{n.spare:g}",
                f"{n.on_hand:g}",
                f"{n.to_order:g}",
                unit,
                f"{n.part.price:.2f}",
                f"{n.cost:.2f}",
                cell(n.why),
            ]
        )
    return out.getvalue()
