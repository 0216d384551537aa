# SPDX-License-Identifier: GPL-3.0-or-later
"""A tagged PDF: every text of a page is content in reading order, the page's first one its heading; lines and areas are decoration.

ISO 32000-1, 14.7 and 14.8: structure tree, marked content, parent tree.
"""

from __future__ import annotations

import io

from pypdf import PdfReader, PdfWriter
from pypdf.generic import (
    ArrayObject,
    BooleanObject,
    DecodedStreamObject,
    DictionaryObject,
    IndirectObject,
    NameObject,
    NullObject,
    NumberObject,
    TextStringObject,
)

from gravidon.words.text import tr

NOT_TEXT, TEXT, END = b"/Artifact BMC\n", b"/%s <</MCID %d>> BDC\n", b"EMC\n"


def _marked(content: bytes, heading: bytes) -> tuple[bytes, int]:
    """Return a page's content with every text object marked, and how many there are; the first is a heading.

    The writer of these pages puts BT and ET on lines of their own.
    """
    out, count = [NOT_TEXT], 0
    for line in content.splitlines(keepends=True):
        bare = line.strip()
        if bare == b"BT":
            out += [END, TEXT % (heading if count == 0 else b"P", count), line]
            count += 1
        elif bare == b"ET":
            out += [line if line.endswith(b"\n") else line + b"\n", END, NOT_TEXT]
        else:
            out.append(line)
    if not out[-1].endswith(b"\n"):
        out.append(b"\n")
    return b"".join([*out, END]), count


def _node(
    writer: PdfWriter, kind: str, parent: IndirectObject
) -> tuple[DictionaryObject, ArrayObject, IndirectObject]:
    """Return an element of the structure, the list of its children, and what leads to it."""
    kids = ArrayObject()
    node = DictionaryObject(
        {
            NameObject("/Type"): NameObject("/StructElem"),
            NameObject("/S"): NameObject(f"/{kind}"),
            NameObject("/P"): parent,
            NameObject("/K"): kids,
        }
    )
    return node, kids, writer._add_object(node)


def tagged(pdf: bytes, title: str, language: str) -> bytes:
    """Return a PDF with its structure, title and language.

    Args:
        pdf: pages as Qt writes them.
        title: told by readers in place of the file's name.
        language: of the text, as in RFC 5646.
    """
    writer = PdfWriter(clone_from=PdfReader(io.BytesIO(pdf)))
    root = DictionaryObject({NameObject("/Type"): NameObject("/StructTreeRoot")})
    root_ref = writer._add_object(root)
    _, pages, document_ref = _node(writer, "Document", root_ref)
    root[NameObject("/K")] = ArrayObject([document_ref])
    parents = ArrayObject()
    for number, page in enumerate(writer.pages):
        contents = page.get_contents()
        content, count = _marked(
            contents.get_data() if contents is not None else b"", b"H1" if number == 0 else b"H2"
        )
        stream = DecodedStreamObject()
        stream.set_data(content)
        page[NameObject("/Contents")] = writer._add_object(stream.flate_encode())
        page[NameObject("/StructParents")] = NumberObject(number)
        page[NameObject("/Tabs")] = NameObject("/S")
        _, texts, section_ref = _node(writer, "Sect", document_ref)
        pages.append(section_ref)
        of_page = ArrayObject()
        for k in range(count):
            kind = ("H1" if number == 0 else "H2") if k == 0 else "P"
            node, _, ref = _node(writer, kind, section_ref)
            node[NameObject("/Pg")] = page.indirect_reference or NullObject()
            node[NameObject("/K")] = NumberObject(k)
            texts.append(ref)
            of_page.append(ref)
        parents += [NumberObject(number), writer._add_object(of_page)]
    root[NameObject("/ParentTree")] = writer._add_object(DictionaryObject({NameObject("/Nums"): parents}))
    root[NameObject("/ParentTreeNextKey")] = NumberObject(len(writer.pages))
    catalogue = writer._root_object
    catalogue[NameObject("/StructTreeRoot")] = root_ref
    catalogue[NameObject("/MarkInfo")] = DictionaryObject({NameObject("/Marked"): BooleanObject(True)})
    catalogue[NameObject("/Lang")] = TextStringObject(language)
    catalogue[NameObject("/ViewerPreferences")] = DictionaryObject(
        {NameObject("/DisplayDocTitle"): BooleanObject(True)}
    )
    writer.add_metadata(
        {"/Title": title, "/Creator": "Gravidon", "/Subject": tr("Turbocharger oil feed and drain")}
    )
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()
