# SPDX-License-Identifier: GPL-3.0-or-later
"""The channels of a recording: names, units, bounds. One table for lines, files and mappings."""

from __future__ import annotations

from gravidon.plan.drive_log import Channel
from gravidon.translate import tr

_PRESSURE = {"kPa": (1e3, 0.0), "psi": (6894.757293168, 0.0), "bar": (1e5, 0.0)}
_VOLTS = {"V": (1.0, 0.0), "mV": (1e-3, 0.0)}
_DEGREES = {"degC": (1.0, 273.15), "°C": (1.0, 273.15), "degF": (5 / 9, 459.67 * 5 / 9), "°F": (5 / 9, 459.67 * 5 / 9), "K": (1.0, 0.0)}  # fmt: skip

MOST_TURBOS = 3


def _inlets() -> dict[str, Channel]:
    made = {}
    for k in range(MOST_TURBOS):
        tail, words = ("", "") if k == 0 else (str(k + 1), tr(" of turbo {number}").format(number=k + 1))
        made[f"inlet{tail}"] = Channel(
            tr("inlet pressure{words}").format(words=words),
            False,
            _PRESSURE,
            -2e5,
            5e6,
            (f"inlet{tail}_p", f"turbo{tail}_p", f"inlet{tail}"),
        )
        made[f"inlet{tail}_v"] = Channel(
            tr("inlet sender{words}").format(words=words), False, _VOLTS, -1.0, 20.0, (f"inlet{tail}_v",)
        )
    return made  # fmt: skip


CHANNELS: dict[str, Channel] = {
    "time": Channel(tr("time"), True, {"s": (1.0, 0.0), "ms": (1e-3, 0.0), "min": (60.0, 0.0)}, -1e9, 1e9, ("time", "t_s", "elapsed")),
    "rpm": Channel(tr("engine speed"), False, {"rpm": (1.0, 0.0), "1/s": (60.0, 0.0)}, -1.0, 25000.0, ("rpm", "engine_speed", "revs")),
    "oil": Channel(tr("oil temperature"), False, _DEGREES, 200.0, 520.0, ("oil_t", "oil temp", "oiltemp", "oil", "temp")),
    "gallery": Channel(tr("gallery pressure"), False, _PRESSURE, -2e5, 5e6, ("gallery_p", "oil_p", "press", "gallery")),
    "gallery_v": Channel(tr("gallery sender"), False, _VOLTS, -1.0, 20.0, ("gallery_v",)),
    "supply": Channel("senders' supply", False, _VOLTS, 0.0, 60.0, ("supply", "vref", "5v")),
    **_inlets(),
}  # fmt: skip
"""By key. Values are kept in SI: s, rpm, K, Pa gauge, V. A key ending in `_v` is a sender's raw voltage."""

PLAIN_UNITS = {"time": "s", "rpm": "rpm", "oil": "degC", "supply": "V"}
"""The unit Gravidon writes a channel in; pressures in kPa, senders in V."""


def unit_written(key: str) -> str:
    """Return the unit that Gravidon writes a channel in."""
    return PLAIN_UNITS.get(key, "V" if key.endswith("_v") else "kPa")


def heading(key: str) -> str:
    """Return a channel's heading as Gravidon writes it.

    >>> heading("inlet_v"), heading("oil")
    ('inlet[V]', 'oil[degC]')
    """
    return f"{key.removesuffix('_v')}[{unit_written(key)}]"


def channel_of(text: str) -> tuple[str, float, float] | None:
    """Return the key, factor and offset to SI of a heading such as `inlet[psi]`; None where it names no channel.

    >>> channel_of("gallery[V]")
    ('gallery_v', 1.0, 0.0)
    """
    name, bracket, unit = text.strip().partition("[")
    unit = unit.removesuffix("]")
    name = name.strip().lower()
    if not bracket:
        return None
    for key in (f"{name}_v", name):
        known = CHANNELS.get(key)
        if known is not None:
            match = next((u for u in known.units if u.lower() == unit.strip().lower()), None)
            if match is not None:
                factor, offset = known.units[match]
                return key, factor, offset
    return None
