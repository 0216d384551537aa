# SPDX-License-Identifier: GPL-3.0-or-later
"""Texts, lists and numbers in the language of the session: `tr` where a text is shown, `N_` where it only stands in a table.

gettext domain "gravidon", catalogues under words/locale; the language is that of the environment when Gravidon starts. How
numbers and lists are written is said by the catalogue too, so that a sentence and its numbers are of one language.
"""

from __future__ import annotations

import gettext
import math
import os
import re
from collections.abc import Iterable
from functools import cache
from pathlib import Path

DOMAIN = "gravidon"
FOLDER_SET = "GRAVIDON_LOCALES"
"""Environment variable: another folder of catalogues, for who makes one."""
HABITS = (
    ("decimal sign", "."),
    ("sign between thousands", "\u202f"),
    ("between things of a list", "{first}, {more}"),
    ("last two things of a list", "{first} and {last}"),
    ("last two things to choose from", "{first} or {last}"),
)
"""What a language writes in its own way: context and English text, for the template."""


def N_(text: str) -> str:
    """Mark a literal for extraction; it is translated when shown."""
    return text


def locales() -> Path:
    """Return the folder of catalogues: <language>/LC_MESSAGES/gravidon.mo, and <language>/handbook/<page>.md."""
    return Path(os.environ.get(FOLDER_SET, Path(__file__).parent / "words" / "locale"))


@cache
def home() -> Path | None:
    """Return the folder of the language that texts are shown in, named after it; None for the sources' own."""
    found = gettext.find(DOMAIN, locales())
    return Path(found).parents[1] if found else None


def language() -> str:
    """Return the language that texts are shown in, as in RFC 5646.

    >>> language()
    'en'
    """
    folder = home()
    return folder.name.partition("@")[0].replace("_", "-") if folder else "en"


@cache
def _catalogue() -> gettext.NullTranslations:
    try:
        return gettext.translation(DOMAIN, locales(), fallback=True)
    except Exception:  # noqa: BLE001  whatever is wrong with a catalogue, the sources' own language is there
        return gettext.NullTranslations()


def offer_to_argparse() -> None:
    """Let what asks gettext of its own accord find the catalogue, if it is a sound one."""
    if type(_catalogue()) is not gettext.NullTranslations:
        gettext.bindtextdomain(DOMAIN, str(locales()))
        gettext.textdomain(DOMAIN)


@cache
def _habit(context: str) -> str:
    source = dict(HABITS)[context]
    found = Text.of(_catalogue().pgettext(context, source), source)
    if "{" in source:
        found.format(first="", more="", last="")
        fits = all(place in found for place in re.findall(r"{\w+}", source))
        return found if fits else source
    return found


# --- numbers -------------------------------------------------------------------------------------


def written(number: str) -> str:
    """Return a number's text, as Python writes it, with the language's decimal sign, its sign between thousands, and a true minus.

    >>> written("-12,000.5").replace(chr(0x202F), " ")
    '−12 000.5'
    """
    between, point = _habit("sign between thousands"), _habit("decimal sign")
    return "".join({",": between, ".": point, "-": "−"}.get(c, c) for c in number)


def number(value: float, spec: str) -> str:
    """Return a number formatted as Python's `format` does, written as the language writes it; a dash where there is none.

    >>> number(0.75, ".1f"), number(-2, "g"), number(math.inf, ".1f")
    ('0.8', '−2', '–')
    """
    return written(format(value, spec)) if math.isfinite(value) else "–"


class _Number(float):
    """A number that is written as the language writes it, if a place says how many digits."""

    __slots__ = ()

    def __format__(self, spec: str) -> str:
        return number(float(self), spec) if spec else format(float(self))


class Text(str):
    """A translated text; `format` writes its numbers in the language's way. Where a translator's places do not fit, the source's text is filled."""

    __slots__ = ("source",)
    source: str

    @classmethod
    def of(cls, text: str, source: str) -> Text:
        """Make it of a text and what it translates."""
        made = cls(text)
        made.source = source
        return made

    def format(self, *args: object, **kwargs: object) -> str:
        """Return the text with its places filled."""
        filled = {k: _Number(v) if isinstance(v, float) else v for k, v in kwargs.items()}
        try:
            return str(self).format(*args, **filled)
        except (KeyError, IndexError, ValueError, AttributeError, TypeError):
            if str(self) == self.source:
                raise
            return self.source.format(*args, **filled)


# --- texts ---------------------------------------------------------------------------------------


def tr(text: str) -> str:
    """Return a marked text in the language of the session; the text itself where there is no translation."""
    return Text.of(_catalogue().gettext(text), str(text)) if text else text


def trn(one: str, many: str, count: int) -> str:
    """Return the text for so many of something, as the language counts; the place `{count}` in it is filled.

    >>> trn("{count} guess", "{count} guesses", 3)
    '3 guesses'
    """
    return Text.of(_catalogue().ngettext(one, many, count), one if count == 1 else many).format(count=count)


# --- lists ---------------------------------------------------------------------------------------


def commas(words: Iterable[str]) -> str:
    """Return words one after the other.

    >>> commas(("idle", "cruise", "full load"))
    'idle, cruise, full load'
    """
    *others, text = tuple(words) or ("",)
    for word in reversed(others):
        text = _habit("between things of a list").format(first=word, more=text)
    return text


def listed(words: Iterable[str]) -> str:
    """Return words as a list in a sentence; empty for none.

    >>> listed(("the pan", "the thread", "the hose"))
    'the pan, the thread and the hose'
    """
    return _closed(words, "last two things of a list")


def either(words: Iterable[str]) -> str:
    """Return words as a choice in a sentence; empty for none.

    >>> either(("the pan", "the hose"))
    'the pan or the hose'
    """
    return _closed(words, "last two things to choose from")


def _closed(words: Iterable[str], habit: str) -> str:
    *others, last = tuple(words) or ("",)
    return _habit(habit).format(first=commas(others), last=last) if others else last
