"""Texts that people type into any field, by mistake or on purpose: forty, in which something is read by somebody."""

from __future__ import annotations

TEXTS = (
    *("{x}", "{0}", "{}", "{{buyer}}", "{buyer", "buyer}", "{kept}", "{order_address}", "{link}", "{goods}{terms}"),
    *("{buyer}{buyer}", "%s %(kept)s", "{{ kept }}", "{% debug %}", "${kept}", "\\1 \\g<0> \\{kept\\}"),
    *("**strong** _em_", "[go](javascript:alert(1))", "![p](https://evil.example/p.png)", "<https://evil.example/>"),
    *("# Heading", "- list\n- list", "1. one", "> quote", "`code`", "a | b\n--|--", "&lt;b&gt; &#123;kept&#125;"),
    *("<script>alert(1)</script>", "<img src=x onerror=alert(1)>", '"><b onclick="x">', "</table></p><h1>", "<!--"),
    *(
        "=1+1",
        "\u202eevil\u202c",
        "\ufeff\u200b",
        "Ünïcödé 🪁 字 ع",
        "a\u0301" * 30,
        "x" * 5000,
        "{x}" * 1600,
        "' OR 1=1",
    ),
)
#: Beside them, what a field of one line never holds.
LINES = tuple(text for text in TEXTS if "\n" not in text)
