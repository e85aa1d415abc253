// What every document for paper has in common: its faces and colours.
#let ink = rgb("#22302e")
#let soft = rgb("#5d6b66")
#let rule = rgb("#b9ad98")
// What the product's faces lack is taken from those that are there.
#let text-faces = ("Cravik Text", "Libertinus Serif", "DejaVu Sans", "Noto Sans CJK SC", "Noto Sans", "Droid Sans Fallback")
#let heading-faces = ("Cravik Heading",) + text-faces
#let dressed(body) = {
  show heading.where(level: 1): set text(font: heading-faces, size: 20pt, weight: "regular")
  // Figures as headings have them on screen.
  show heading: it => { show regex("[0-9]+"): set text(font: text-faces, weight: "bold"); it }
  set text(font: text-faces, size: 10.5pt, fill: ink, lang: "en")
  body
}
#let figures(body) = text(number-width: "tabular", body)
