# SPDX-License-Identifier: GPL-3.0-or-later
"""A PDF that a screen reader can follow. Rules: ISO 32000-1, 14.7 to 14.8, and those of ISO 14289-1 (PDF/UA) that a program can judge."""

from __future__ import annotations

from pathlib import Path

import pytest
from pypdf import PdfReader
from pypdf.generic import ContentStream, IndirectObject

from gravidon import api

SHOWS = {b"Tj", b"TJ", b"'", b'"'}
PAINTS = {b"f", b"F", b"f*", b"B", b"B*", b"b", b"b*", b"S", b"s", b"Do", b"sh"}


@pytest.fixture(scope="module")
def sheet(tmp_path_factory: pytest.TempPathFactory) -> PdfReader:
    target: Path = tmp_path_factory.mktemp("sheet") / "a.pdf"
    api.sheet(api.demo("special"), target)
    return PdfReader(target)


def test_the_document_says_what_it_is(sheet: PdfReader) -> None:
    root = sheet.trailer["/Root"]
    assert root["/MarkInfo"]["/Marked"]
    assert root["/Lang"] == "en"
    assert root["/ViewerPreferences"]["/DisplayDocTitle"]
    assert "special" in sheet.metadata.title.lower()


def test_everything_painted_is_content_or_decoration(sheet: PdfReader) -> None:
    """No text outside a tag, no line outside an artifact, every mark closed, numbers from 0 without gaps."""
    for page in sheet.pages:
        depth, inside, numbers = 0, "", []
        for operands, operator in ContentStream(page.get_contents(), sheet).operations:
            if operator == b"BMC":
                depth, inside = depth + 1, str(operands[0])
            elif operator == b"BDC":
                depth, inside = depth + 1, str(operands[0])
                numbers.append(int(operands[1]["/MCID"]))
            elif operator == b"EMC":
                depth, inside = depth - 1, ""
            elif operator in SHOWS:
                assert inside in ("/P", "/H1", "/H2")
            elif operator in PAINTS:
                assert inside == "/Artifact"
            assert depth in (0, 1)
        assert depth == 0
        assert numbers == list(range(len(numbers)))
        assert numbers


def test_the_tree_leads_to_every_text_and_back(sheet: PdfReader) -> None:
    tree = sheet.trailer["/Root"]["/StructTreeRoot"]
    nums = tree["/ParentTree"]["/Nums"]
    by_page = {int(nums[k]): nums[k + 1].get_object() for k in range(0, len(nums), 2)}
    document = tree["/K"][0].get_object()
    assert document["/S"] == "/Document"
    assert len(document["/K"]) == len(sheet.pages)
    kinds = []
    for page, section in zip(sheet.pages, document["/K"], strict=True):
        parents = by_page[int(page["/StructParents"])]
        nodes = section.get_object()["/K"]
        assert [n.idnum for n in nodes if isinstance(n, IndirectObject)] == [p.idnum for p in parents]
        for k, node in enumerate(nodes):
            element = node.get_object()
            assert element["/K"] == k
            assert element["/Pg"].get_object() == page
            kinds.append(str(element["/S"]))
    assert kinds.count("/H1") == 1
    assert kinds.count("/H2") == len(sheet.pages) - 1


def test_the_words_are_still_there(sheet: PdfReader) -> None:
    words = " ".join(" ".join(page.extract_text() for page in sheet.pages).split())
    assert "licensed" in words
    assert "All joints re-checked cold" in words
