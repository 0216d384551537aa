# SPDX-License-Identifier: GPL-3.0-or-later
"""Write what the program is made of, from the lock: a CycloneDX list with versions, hashes and licences.

    python tools/sbom.py > sbom.json

Source: OWASP CycloneDX 1.5, JSON; package URLs as in the purl specification.
"""

from __future__ import annotations

import json
import re
import sys
from importlib.metadata import PackageNotFoundError, metadata
from pathlib import Path
from typing import Any

from gravidon import __version__

ROOT = Path(__file__).resolve().parents[1]
_PIN = re.compile(r"^(?P<name>[A-Za-z0-9_.-]+)==(?P<version>[^\s\\;]+)", re.MULTILINE)
_HASH = re.compile(r"--hash=sha256:([0-9a-f]{64})")


def components(lock: str) -> list[dict[str, Any]]:
    """Return the components that a lock pins, in its order."""
    pins = list(_PIN.finditer(lock))
    ends = [*(p.start() for p in pins[1:]), len(lock)]
    return [
        {
            "type": "library",
            "name": pin["name"],
            "version": pin["version"],
            "purl": f"pkg:pypi/{pin['name'].lower()}@{pin['version']}",
            "hashes": [{"alg": "SHA-256", "content": h} for h in _HASH.findall(lock[pin.start() : end])],
            **_licence(pin["name"]),
        }
        for pin, end in zip(pins, ends, strict=True)
    ]


def _licence(name: str) -> dict[str, Any]:
    try:
        known = metadata(name)
    except PackageNotFoundError:
        return {}
    said = known.get("License-Expression") or known.get("License") or ""
    said = said.strip().splitlines()[0][:80] if said.strip() else ""
    return {"licenses": [{"license": {"name": said}}]} if said else {}


def bill(lock: str) -> dict[str, Any]:
    """Return the whole list of a lock's text."""
    return {
        "bomFormat": "CycloneDX",
        "specVersion": "1.5",
        "version": 1,
        "metadata": {
            "component": {
                "type": "application",
                "name": "gravidon",
                "version": __version__,
                "licenses": [{"license": {"id": "GPL-3.0-or-later"}}],
            }
        },
        "components": components(lock),
    }


if __name__ == "__main__":
    json.dump(bill((ROOT / "requirements.lock").read_text("utf-8")), sys.stdout, indent=1)
    print()
