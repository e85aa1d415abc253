"""Words of sellers, written in a small part of Markdown (CommonMark), as safe HTML.

>>> rendered("A **strong** kite\\n<script>alert(1)</script>")
'<p>A <strong>strong</strong> kite<br>\\n&lt;script&gt;alert(1)&lt;/script&gt;</p>\\n'
"""

from __future__ import annotations

import nh3
from markdown_it import MarkdownIt

# Paragraphs, emphasis, lists and links; no headings, pictures, tables or HTML of its own.
_READER = MarkdownIt("zero", {"breaks": True, "linkify": False}).enable(
    ["emphasis", "list", "link", "autolink", "newline", "escape"]
)
_TAGS = {"p", "br", "em", "strong", "ul", "ol", "li", "a"}


def rendered(words: str) -> str:
    """``words`` as HTML of a few harmless tags; links lead away without telling where from."""
    html = _READER.render(words)
    return nh3.clean(
        html,
        tags=_TAGS,
        attributes={"a": {"href"}, "ol": {"start"}},
        url_schemes={"http", "https", "mailto"},
        link_rel="nofollow noopener noreferrer",
    )
