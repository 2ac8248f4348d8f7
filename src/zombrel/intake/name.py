"""Names of files made from what people call things, and texts that any paper can hold."""

from __future__ import annotations

import re

LONGEST_BYTES = 120
"""A file name may have 255 bytes on the usual file systems; endings and folders need room."""
NOT_XML = "[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]"
"""What no XML document may contain (XML 1.0, 5th ed., production 2); compiled when first needed."""


def file_name(text: str, ending: str = "", otherwise: str = "job") -> str:
    """A name for a file or folder: one part, visible, with letters, digits and a few marks.

    ``2024/17`` becomes ``2024-17``; a text of which nothing is left becomes ``otherwise``.
    """
    import unicodedata

    plain = unicodedata.normalize("NFC", text.encode("utf-8", "replace").decode())
    name = re.sub(r"[^\w .()+=,-]+", "-", plain)
    name = re.sub(r"\s+", " ", name).strip(" .-")
    while len(name.encode()) > LONGEST_BYTES:
        name = name[:-1].rstrip(" .-")
    return (name or otherwise) + ending


def xml_text(text: str) -> str:
    """A text without what XML, and so SVG and HTML, cannot hold."""
    return re.sub(NOT_XML, "\ufffd", text)
