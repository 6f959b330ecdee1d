/** Where the data of the pages lies for the template. */
export const dataPath = '/paper.json'

/**
 * The typesetter's program: it goes through the data (paper.ts) and sets what it says. It is the same for every document:
 * what people wrote comes to it as data and is never read as its language (Typst 0.14, https://typst.app/docs/reference).
 */
export const template = `#let paper = json("${dataPath}")
#let looked(look, body) = {
  let given = (:)
  if "size" in look { given.insert("size", look.size * 1pt) }
  if "font" in look { given.insert("font", look.font) }
  if "color" in look { given.insert("fill", rgb(look.color)) }
  if look.at("bold", default: none) != none { given.insert("weight", "bold") }
  if look.at("italic", default: none) != none { given.insert("style", "italic") }
  text(..given, body)
}
#let spaced(said) = {
  let parts = said.split("\\t")
  parts.enumerate().map(((at, part)) => if at == 0 { part } else { h(24pt) + part }).join()
}
#let run(it) = {
  if "br" in it { linebreak() }
  else if "note" in it { footnote(it.note) }
  else if "field" in it {
    if it.field == "page" { context counter(page).display("1") } else { context counter(page).final().first() }
  } else if "image" in it {
    let size = (width: it.width * 1pt, height: it.height * 1pt)
    if it.image == "" { box(..size, stroke: 0.5pt + luma(160)) }
    else { box(image(it.image, ..size, fit: "stretch", alt: it.alt)) }
  } else {
    let body = looked(it, spaced(it.t))
    if "underline" in it { body = underline(body) }
    if "strike" in it { body = strike(body) }
    if "raised" in it { body = super(typographic: false, body) }
    if "lowered" in it { body = sub(typographic: false, body) }
    if "fill" in it { body = highlight(fill: rgb(it.fill), body) }
    if "href" in it { body = link(it.href, body) }
    body
  }
}
#let edge(border) = stroke(
  thickness: border.width * 1pt,
  paint: if border.color == none { black } else { rgb(border.color) },
  dash: border.dash,
)
// Indents leave at least a third of the width that there is: in a narrow cell nothing is set beside the page.
#let placed(left, right, body) = if left <= 0pt and right <= 0pt { pad(left: left, right: right, body) } else {
  layout(size => {
    let most = size.width * 2 / 3
    let part = if left + right > most and left + right > 0pt { most / (left + right) } else { 1 }
    pad(left: left * part, right: right * part, body)
  })
}
#let paragraph(p) = {
  let size = p.text.at("size", default: 11) * 1pt
  let body = looked(p.text, if p.runs.len() == 0 { sym.zws } else { p.runs.map(run).join() })
  let align-as = p.at("align", default: "left")
  let first = p.at("first", default: 0) * 1pt
  let indent = p.at("left", default: 0) * 1pt
  set par(
    leading: (p.line - 1) * size,
    justify: align-as == "justify",
    first-line-indent: (amount: calc.min(calc.max(first, 0pt), 72pt), all: true),
    hanging-indent: calc.max(-first, 0pt),
  )
  // A heading is on one page with what comes after it, as long as it is one: nothing that could fill a page.
  let short = p.level > 0 and p.runs.len() < 12 and p.runs.all(it => "t" in it and it.t.len() < 300 and it.at("size", default: 0) < 40)
  let stroked = (:)
  for (name, border) in p.at("borders", default: (:)) { stroked.insert(name, edge(border)) }
  let inner = if p.level > 0 { heading(level: p.level, body) } else { par(body) }
  block(
    above: p.before * 1pt,
    below: p.after * 1pt,
    width: 100%,
    breakable: not short,
    sticky: short,
    fill: if "fill" in p { rgb(p.fill) },
    stroke: if stroked.len() > 0 { stroked },
    inset: if "fill" in p or stroked.len() > 0 { 3pt } else { 0pt },
    placed(
      indent + calc.min(first, 0pt),
      p.at("right", default: 0) * 1pt,
      align(if align-as == "justify" { start } else if align-as == "left" { start } else if align-as == "right" { end } else { center }, inner),
    ),
  )
}
#let blocks(all) = {
  for it in all {
    if "p" in it { paragraph(it.p) }
    else if "pageBreak" in it { pagebreak() }
    else if "quote" in it { block(width: 100%, inset: (left: 12pt), stroke: (left: 1.5pt + luma(170)), blocks(it.quote)) }
    else if "list" in it {
      if it.ordered == none { list(indent: 10pt, body-indent: 8pt, tight: true, ..it.list.map(blocks)) }
      else {
        let how = it.ordered
        enum(
          start: how.start,
          full: how.full,
          indent: 10pt,
          body-indent: 8pt,
          tight: true,
          numbering: (..at) => how.before + at.pos().map(n => numbering(how.pattern, n)).join(".") + how.after,
          ..it.list.map(blocks),
        )
      }
    } else if "table" in it {
      let cell(one) = table.cell(x: one.x, y: one.y, colspan: one.colspan, rowspan: one.rowspan, blocks(one.blocks))
      let room = paper.page.width - paper.page.left - paper.page.right
      let columns = if it.widths == none { (1fr,) * it.columns } else {
        let whole = it.widths.sum()
        let part = if whole > room { room / whole } else { 1 }
        it.widths.map(width => width * part * 1pt)
      }
      let head = it.table.head.map(one => table.cell(x: one.x, y: one.y, colspan: one.colspan, rowspan: one.rowspan, fill: luma(240), text(weight: "bold", blocks(one.blocks))))
      block(above: 6pt, below: 8pt, table(
        columns: columns,
        stroke: 0.5pt + luma(120),
        inset: (x: 5pt, y: 3.5pt),
        ..if head.len() > 0 { (table.header(repeat: it.table.again, ..head),) },
        ..it.table.cells.map(cell),
      ))
    }
  }
}
// Nothing that asks where it is stands on pages that need none: what asks is laid out anew with all pages at each edit.
#let at-edge(edges, where) = if edges.len() == 0 { none } else if "all" in edges and edges.len() == 1 {
  align(where, block(width: 100%, blocks(edges.all)))
} else { context {
  let number = counter(page).get().first()
  let one = if number == 1 and "first" in edges { edges.first }
    else if calc.even(number) and "even" in edges { edges.even }
    else { edges.at("all", default: none) }
  if one != none { align(where, block(width: 100%, blocks(one))) }
} }
#set document(title: if paper.properties { paper.title })
#set page(
  width: paper.page.width * 1pt,
  height: paper.page.height * 1pt,
  margin: (
    top: paper.page.top * 1pt,
    right: paper.page.right * 1pt,
    bottom: paper.page.bottom * 1pt,
    left: paper.page.left * 1pt,
  ),
  header: at-edge(paper.head, bottom),
  footer: at-edge(paper.foot, top),
  background: if paper.corner != "" {
    place(bottom + right, dx: -18pt, dy: -14pt, text(size: 7.5pt, fill: luma(90), paper.corner))
  },
)
#set text(lang: paper.language, hyphenate: false, top-edge: 0.8em, bottom-edge: -0.2em, size: 11pt)
#set heading(numbering: none)
#show heading: it => it.body
#show link: it => it
#blocks(paper.blocks)
`
