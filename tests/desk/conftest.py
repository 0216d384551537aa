# SPDX-License-Identifier: GPL-3.0-or-later
"""No question may hang a test: one that a test does not answer fails it."""

from __future__ import annotations

import pytest


@pytest.fixture(autouse=True)
def _questions_are_answered(monkeypatch: pytest.MonkeyPatch) -> None:
    def unanswered(box: object) -> int:
        raise AssertionError(f"asked, and the test does not answer: {box.text()}")  # type: ignore[attr-defined]

    monkeypatch.setattr("gravidon.desk.ask.QMessageBox.exec", unanswered)
