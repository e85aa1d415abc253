"""An invoice or credit note as XML: Cross Industry Invoice (UN/CEFACT D16B), as EN 16931 uses it.

Elements stand in the order of the schema; which business term each is, says EN 16931-3-3.
"""

from __future__ import annotations

from datetime import date
from xml.etree import ElementTree as Tree

from cravik.core.invoicing.content import Content, DocumentLine, Party
from cravik.core.invoicing.structured import CategorisedLine, Category, CategorySum, structured
from cravik.core.pricing.money import Money

GUIDELINE = "urn:cen.eu:en16931:2017"
#: The name under which it lies in a PDF/A-3 (Factur-X 1.0 and ZUGFeRD 2 read it there).
FILE_NAME = "factur-x.xml"
_NAMESPACES = {
    "rsm": "urn:un:unece:uncefact:data:standard:CrossIndustryInvoice:100",
    "ram": "urn:un:unece:uncefact:data:standard:ReusableAggregateBusinessInformationEntity:100",
    "qdt": "urn:un:unece:uncefact:data:standard:QualifiedDataType:100",
    "udt": "urn:un:unece:uncefact:data:standard:UnqualifiedDataType:100",
}
#: UNTDID 1001.
_TYPES = {"whole": "380", "period": "380", "prepayment": "386", "correction": "381"}
_REVERSED = "Reverse charge"
_CHARGES = {"delivery": "Delivery", "cover": "Card fee, covered by the buyer"}
_PIECE = "C62"


def write_cii(content: Content) -> bytes:
    """The document as XML, in UTF-8. Of one that ``structured.why_not`` has nothing against."""
    sums = structured(content)
    root = Tree.Element(_name("rsm:CrossIndustryInvoice"))
    context = _add(root, "rsm:ExchangedDocumentContext", "ram:GuidelineSpecifiedDocumentContextParameter")
    _add(context, "ram:ID", text=GUIDELINE)
    head = _add(root, "rsm:ExchangedDocument")
    _add(head, "ram:ID", text=content.number)
    _add(head, "ram:TypeCode", text=_TYPES["correction" if content.kind == "correction" else content.of])
    _day(_add(head, "ram:IssueDateTime"), content.issued_on)
    for note in filter(None, (content.why, content.note)):
        _add(head, "ram:IncludedNote", "ram:Content", text=note)
    deal = _add(root, "rsm:SupplyChainTradeTransaction")
    for number, each in enumerate(sums.lines, 1):
        _line(deal, number, each)
    agreement = _add(deal, "ram:ApplicableHeaderTradeAgreement")
    _party(_add(agreement, "ram:SellerTradeParty"), content.seller)
    _party(_add(agreement, "ram:BuyerTradeParty"), content.buyer)
    _add(agreement, "ram:BuyerOrderReferencedDocument", "ram:IssuerAssignedID", text=content.reference)
    delivery = _add(deal, "ram:ApplicableHeaderTradeDelivery")
    _day(_add(delivery, "ram:ActualDeliverySupplyChainEvent", "ram:OccurrenceDateTime"), content.supplied_on)
    settlement = _add(deal, "ram:ApplicableHeaderTradeSettlement")
    _add(settlement, "ram:InvoiceCurrencyCode", text=content.currency)
    for tax in sums.categories:
        _tax(settlement, tax, content)
    for each in sums.charges:
        _charge(settlement, each)
    if sums.due:
        _add(settlement, "ram:SpecifiedTradePaymentTerms", "ram:Description", text="As agreed with the order")
    total = _add(settlement, "ram:SpecifiedTradeSettlementHeaderMonetarySummation")
    _add(total, "ram:LineTotalAmount", text=sums.line_sum.major)
    _add(total, "ram:ChargeTotalAmount", text=sums.charge_sum.major)
    _add(total, "ram:AllowanceTotalAmount", text=Money(0, content.currency).major)
    _add(total, "ram:TaxBasisTotalAmount", text=sums.base.major)
    _add(total, "ram:TaxTotalAmount", text=sums.tax.major, currencyID=content.currency)
    if sums.rounding:
        _add(total, "ram:RoundingAmount", text=sums.rounding.major)
    _add(total, "ram:GrandTotalAmount", text=sums.grand_total.major)
    _add(total, "ram:TotalPrepaidAmount", text=sums.paid.major)
    _add(total, "ram:DuePayableAmount", text=sums.due.major)
    if content.corrects:
        corrected = _add(settlement, "ram:InvoiceReferencedDocument")
        _add(corrected, "ram:IssuerAssignedID", text=content.corrects.number)
        _day(_add(corrected, "ram:FormattedIssueDateTime"), content.corrects.on, "qdt")
    for prefix, namespace in _NAMESPACES.items():
        Tree.register_namespace(prefix, namespace)
    written: bytes = Tree.tostring(root, encoding="UTF-8", xml_declaration=True)
    return written


def _line(deal: Tree.Element, number: int, each: CategorisedLine) -> None:
    line = each.line
    item = _add(deal, "ram:IncludedSupplyChainTradeLineItem")
    _add(item, "ram:AssociatedDocumentLineDocument", "ram:LineID", text=str(number))
    _add(item, "ram:SpecifiedTradeProduct", "ram:Name", text=_line_words(line))
    price = _add(item, "ram:SpecifiedLineTradeAgreement", "ram:NetPriceProductTradePrice")
    # The price of as many as there are is exact, where that of one may not be (BT-149).
    _add(price, "ram:ChargeAmount", text=line.net.major)
    _add(price, "ram:BasisQuantity", text=str(line.quantity), unitCode=_PIECE)
    _add(item, "ram:SpecifiedLineTradeDelivery", "ram:BilledQuantity", text=str(line.quantity), unitCode=_PIECE)
    settled = _add(item, "ram:SpecifiedLineTradeSettlement")
    _rate(_add(settled, "ram:ApplicableTradeTax"), each.category)
    _add(settled, "ram:SpecifiedTradeSettlementLineMonetarySummation", "ram:LineTotalAmount", text=line.net.major)


def _line_words(line: DocumentLine) -> str:
    return ", ".join((line.name, *line.options)) if line.kind == "line" else _CHARGES[line.kind]


def _party(element: Tree.Element, party: Party) -> None:
    _add(element, "ram:Name", text=party.company or party.name)
    if party.company and party.name:
        _add(element, "ram:DefinedTradeContact", "ram:PersonName", text=party.name)
    address = _add(element, "ram:PostalTradeAddress")
    if party.postcode:
        _add(address, "ram:PostcodeCode", text=party.postcode)
    lines = (*party.street[:2], ", ".join(party.street[2:]))
    for name, line in zip(("ram:LineOne", "ram:LineTwo", "ram:LineThree"), lines, strict=False):
        if line:
            _add(address, name, text=line)
    if party.town:
        _add(address, "ram:CityName", text=party.town)
    _add(address, "ram:CountryID", text=party.country)
    if party.region:
        _add(address, "ram:CountrySubDivisionName", text=party.region)
    if party.tax_number:
        scheme = "VA" if party.tax_number[:2].isalpha() else "FC"
        _add(element, "ram:SpecifiedTaxRegistration", "ram:ID", text=party.tax_number, schemeID=scheme)


def _tax(settlement: Tree.Element, tax: CategorySum, content: Content) -> None:
    element = _add(settlement, "ram:ApplicableTradeTax")
    _add(element, "ram:CalculatedAmount", text=tax.tax.major)
    _add(element, "ram:TypeCode", text="VAT")
    if tax.category.code in ("AE", "E"):
        _add(element, "ram:ExemptionReason", text=_reason(tax.category, content))
    _add(element, "ram:BasisAmount", text=tax.base.major)
    _add(element, "ram:CategoryCode", text=tax.category.code)
    _add(element, "ram:RateApplicablePercent", text=tax.category.rate.text)


def _reason(category: Category, content: Content) -> str:
    return _REVERSED if category.code == "AE" else content.note or _CHARGES["cover"]


def _rate(element: Tree.Element, category: Category) -> None:
    _add(element, "ram:TypeCode", text="VAT")
    _add(element, "ram:CategoryCode", text=category.code)
    _add(element, "ram:RateApplicablePercent", text=category.rate.text)


def _charge(settlement: Tree.Element, each: CategorisedLine) -> None:
    charge = _add(settlement, "ram:SpecifiedTradeAllowanceCharge")
    _add(charge, "ram:ChargeIndicator", "udt:Indicator", text="true")
    _add(charge, "ram:ActualAmount", text=each.line.net.major)
    _add(charge, "ram:Reason", text=_CHARGES[each.line.kind])
    _rate(_add(charge, "ram:CategoryTradeTax"), each.category)


def _day(element: Tree.Element, day: date, prefix: str = "udt") -> None:
    _add(element, f"{prefix}:DateTimeString", text=f"{day:%Y%m%d}", format="102")


def _add(to: Tree.Element, *path: str, text: str | None = None, **attributes: str) -> Tree.Element:
    """The last of a path of new elements."""
    for name in path:
        to = Tree.SubElement(to, _name(name))
    to.text = None if text is None else _printable(text)
    to.attrib.update(attributes)
    return to


def _name(short: str) -> str:
    prefix, _, name = short.partition(":")
    return f"{{{_NAMESPACES[prefix]}}}{name}"


def _printable(text: str) -> str:
    """Without the signs that XML 1.0 has no place for."""
    return "".join(sign for sign in text if (sign >= " " and sign not in "\ufffe\uffff") or sign in "\t\n")
