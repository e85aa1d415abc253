// A receipt, an invoice or a credit note.
#import "/ui/faces/paper.typ": *
#let data = json(bytes(sys.inputs.data))
#let sheet = data.sheet
#set document(title: sheet.title + " " + sheet.number, author: sheet.seller.first(), description: data.description)
#show: dressed
#set page(paper: data.page, margin: (x: 20mm, top: 18mm, bottom: 20mm), footer: context grid(
  columns: (1fr, auto), text(8.5pt, soft, sheet.title + " " + sheet.number),
  if counter(page).final().first() > 1 { text(8.5pt, soft, str(counter(page).get().first()) + " / " + str(counter(page).final().first())) }))
#if data.xml != none { pdf.attach("/" + data.xml.name, bytes(data.xml.text), relationship: "alternative", mime-type: "text/xml", description: data.xml.description) }
#grid(columns: (1fr, auto), column-gutter: 10mm,
  [#heading(level: 1, sheet.title) #v(-0.5mm) #text(12pt, figures(sheet.number))],
  align(right, sheet.seller.map(line => text(9.5pt, line)).join(linebreak())))
#v(9mm)
#grid(columns: (1fr, auto), column-gutter: 10mm,
  [#text(8.5pt, soft, data.words.to) \ #sheet.buyer.join(linebreak())],
  grid(columns: (auto, auto), column-gutter: 5mm, row-gutter: 2mm,
    ..sheet.facts.map(fact => (text(soft, fact.at(0)), align(right, box(width: auto, fact.at(1))))).flatten()))
#v(8mm)
#let head(words) = text(8.5pt, soft, words)
#let columns = ((if sheet.shows_quantities { (auto,) } else { () }) + (1fr,) + (if sheet.shows_tax { (auto, auto) } else { () }) + (auto,))
#table(
  columns: columns, stroke: none, inset: (x: 2mm, y: 2.2mm),
  align: (x, y) => if x == (if sheet.shows_quantities { 1 } else { 0 }) { left } else { right },
  table.hline(stroke: 0.6pt + ink),
  table.header(..(if sheet.shows_quantities { (head(data.words.quantity),) } else { () }), head(data.words.what),
    ..(if sheet.shows_tax { (head(data.words.net), head(data.words.rate)) } else { () }), head(data.words.amount)),
  table.hline(stroke: 0.6pt + ink),
  ..sheet.rows.map(row => (
    (if sheet.shows_quantities { (figures(row.quantity),) } else { () })
    + ([#row.words#if row.detail != "" [ \ #text(8.5pt, soft, row.detail)]],)
    + (if sheet.shows_tax { (figures(row.net), figures(row.rate)) } else { () })
    + (figures(row.total),))).flatten(),
  table.hline(stroke: 0.4pt + rule),
)
#v(1mm)
#align(right, pad(right: 2mm, grid(columns: (auto, auto), column-gutter: 8mm, row-gutter: 2.4mm, align: (right, right),
  ..sheet.sums.map(each => if each.is_main {
    (text(12pt, weight: "bold", each.words), text(12pt, weight: "bold", figures(each.amount)))
  } else { (each.words, figures(each.amount)) }).flatten())))
#if sheet.notes.len() > 0 {
  v(8mm)
  for note in sheet.notes { par(note) }
}
