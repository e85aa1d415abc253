// Address labels on a sheet of labels, by its millimetres. A label's text is made smaller until it fits.
#import "/ui/faces/paper.typ": *
#let data = json(bytes(sys.inputs.data))
#let sheet = data.sheet
#set document(title: data.title, author: data.seller)
#show: dressed
#set par(leading: 0.45em)
#set page(width: sheet.page_width * 1mm, height: sheet.page_height * 1mm, margin: 0mm)
#let inner-width = sheet.width * 1mm - 8mm
#let inner-height = sheet.height * 1mm - 5mm
#let sized(lines, size) = block(width: inner-width, text(size: size, lines.join("\n")))
#let label(lines) = context {
  let size = (11pt, 10pt, 9pt, 8pt, 7pt, 6pt, 5pt).find(size => measure(sized(lines, size)).height <= inner-height)
  box(width: sheet.width * 1mm, height: sheet.height * 1mm, clip: true, inset: (x: 4mm, y: 2.5mm), align(left + horizon, sized(lines, if size == none { 4pt } else { size })))
}
#let at(column, row, body) = place(top + left, body,
  dx: (sheet.left + column * (sheet.width + sheet.gap_x)) * 1mm,
  dy: (sheet.top + row * (sheet.height + sheet.gap_y)) * 1mm)
#let a-page = sheet.columns * sheet.rows
#let cells = range(data.skipped).map(_ => none) + data.labels
#for page-number in range(calc.ceil(cells.len() / a-page)) {
  if page-number > 0 { pagebreak() }
  for (number, lines) in cells.slice(page-number * a-page, calc.min(cells.len(), (page-number + 1) * a-page)).enumerate() {
    if lines != none {
      at(calc.rem(number, sheet.columns), calc.quo(number, sheet.columns), label(lines))
    }
  }
}
