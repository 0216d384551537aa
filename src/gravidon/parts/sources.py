# SPDX-License-Identifier: GPL-3.0-or-later
"""Where a number comes from; shown beside it wherever it appears."""

COMMON_PRACTICE = "common practice, no source"
FROM_MEMORY = "from memory"
MAKER = "maker's sheet"
OWN_CHOICE = "your own limit"
COMPUTED = "computed from this plan"

SHORT = {
    COMMON_PRACTICE: "cp",
    FROM_MEMORY: "from memory",
    MAKER: "maker",
    OWN_CHOICE: "yours",
    COMPUTED: "computed",
}
"""Marks for tight places; `cp` is spelled out in the handbook and in every tooltip."""
