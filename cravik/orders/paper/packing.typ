// A packing slip for each order: what goes into the parcel, and where it goes. No prices.
#import "/ui/faces/paper.typ": *
#let data = json(bytes(sys.inputs.data))
#set document(title: data.title, author: data.seller)
#show: dressed
#set page(paper: data.page, margin: (x: 20mm, y: 18mm), footer: context align(center, text(8.5pt, soft, data.seller + " · " + str(counter(page).get().first()))))
#for (number, slip) in data.slips.enumerate() {
  if number > 0 { pagebreak() }
  grid(columns: (1fr, auto), heading(level: 1, slip.heading), align(right + horizon, text(soft, slip.ordered)))
  v(6mm)
  grid(
    columns: (1fr, 1fr), gutter: 10mm,
    [#text(8.5pt, soft, data.words.to) \ #text(12pt, slip.address.join("\n"))],
    [#text(8.5pt, soft, data.words.from) \ #data.from.join("\n")],
  )
  v(8mm)
  table(
    columns: (8mm, auto, 1fr), stroke: none, inset: (x: 2mm, y: 2.2mm), align: (center, right, left),
    table.hline(stroke: 0.6pt + ink),
    table.header([], text(8.5pt, soft, data.words.pieces), text(8.5pt, soft, data.words.thing)),
    table.hline(stroke: 0.6pt + ink),
    ..slip.lines.map(line => (
      box(width: 3.6mm, height: 3.6mm, stroke: 0.7pt + ink),
      figures(str(line.pieces)),
      [#text(weight: "bold", line.name)#if line.options != "" [ \ #line.options]],
    )).flatten(),
    table.hline(stroke: 0.4pt + rule),
  )
  if slip.answers.len() > 0 {
    v(4mm)
    grid(columns: (auto, 1fr), column-gutter: 6mm, row-gutter: 2.2mm, ..slip.answers.map(each => (text(soft, each.label), each.answer)).flatten())
  }
}
