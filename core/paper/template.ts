import { setsWhatItSays } from './paper'

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
#let run(it) = {
  if "br" in it { linebreak() }
  else if "note" in it { footnote(it.note) }
  else if "remark" in it {
    if paper.column > 0 { super(typographic: false, size: 0.62em, text(fill: luma(60), weight: "bold", str(it.remark))) }
    [#metadata(it.remark)<remark>]
  }
  else if "field" in it {
    if it.field == "page" { context counter(page).display("1") } else { context counter(page).final().first() }
  } else if "image" in it {
    let size = (width: it.width * 1pt, height: it.height * 1pt)
    if it.image == "" { box(..size, stroke: 0.5pt + luma(160)) }
    else { box(image(it.image, ..size, fit: "stretch", alt: it.alt)) }
  } else {
    // Where there is nothing to set there is only the place: a text without letters makes its line as high as one has to be.
    if it.t != "" {
      let body = looked(it, it.t)
      if "underline" in it { body = underline(body) }
      if "strike" in it { body = strike(body) }
      if "raised" in it { body = super(typographic: false, body) }
      if "lowered" in it { body = sub(typographic: false, body) }
      if "fill" in it { body = highlight(fill: rgb(it.fill), body) }
      if "href" in it { body = link(it.href, body) }
      body
    }
    // Behind its letters: what is before them is on the line before where the line is broken there.
    if "at" in it { [#metadata(it.at)<at>] }
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
// What is between tabs goes to where the text stops: its beginning, its middle or its end; behind the last one, to the next
// of the usual distances.
#let usual-stop = 36pt
#let tabbed(p, room) = {
  let stops = p.at("tabs", default: ())
  let lines = ((),)
  for it in p.runs { if "br" in it { lines.push(()) } else { lines.last().push(it) } }
  lines.map(line => {
    let parts = ((),)
    for it in line {
      if "t" in it and it.t.contains("\t") {
        for (n, words) in it.t.split("\t").enumerate() {
          if n > 0 { parts.push(()) }
          parts.last().push((..it, t: words))
        }
      } else { parts.last().push(it) }
    }
    let shown = parts.map(part => looked(p.text, part.map(run).join()))
    let wide = shown.map(part => measure(part).width)
    let x = wide.first()
    let all = shown.first()
    for n in range(1, parts.len()) {
      let stop = stops.find(stop => stop.at * 1pt > x + 0.5pt)
      let at = calc.min(room, if stop == none { (calc.floor((x + 0.5pt) / usual-stop) + 1) * usual-stop } else { stop.at * 1pt })
      let kind = if stop == none { "left" } else { stop.kind }
      let to = if kind == "right" { at - wide.at(n) } else if kind == "center" { at - wide.at(n) / 2 } else { at }
      let gap = calc.max(to - x, 3pt)
      let dots = stop != none and stop.dots
      all = all + (if dots { box(width: gap, align(end, pdf.artifact(repeat(gap: 1.5pt)[.]))) } else { h(gap) }) + shown.at(n)
      x = x + gap + wide.at(n)
    }
    all
  }).join(linebreak())
}
#let paragraph(p) = {
  let size = p.text.at("size", default: 11) * 1pt
  let has-tabs = p.runs.any(it => "t" in it and it.t.contains("\t"))
  let body = if has-tabs { none } else { looked(p.text, if p.runs.len() == 0 { sym.zws } else { p.runs.map(run).join() }) }
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
  let said = p.runs.filter(it => not ("at" in it and it.t == ""))
  let short = p.level > 0 and said.len() < 12 and said.all(it => "t" in it and it.t.len() < 300 and it.at("size", default: 0) < 40)
  let stroked = (:)
  for (name, border) in p.at("borders", default: (:)) { stroked.insert(name, edge(border)) }
  let wrapped(body) = if p.level > 0 { heading(level: p.level, body) } else { par(body) }
  let inner = if has-tabs { layout(size => wrapped(tabbed(p, size.width))) } else { wrapped(body) }
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
      let columns(room) = if it.widths == none { (1fr,) * it.columns } else {
        let whole = it.widths.sum()
        let part = if whole > room { room / whole } else { 1 }
        it.widths.map(width => width * part * 1pt)
      }
      let head = it.table.head.map(one => table.cell(x: one.x, y: one.y, colspan: one.colspan, rowspan: one.rowspan, fill: luma(240), text(weight: "bold", blocks(one.blocks))))
      let set-table(room) = table(
        columns: columns(room),
        stroke: 0.5pt + luma(120),
        inset: (x: 5pt, y: 3.5pt),
        ..if head.len() > 0 { (table.header(repeat: it.table.again, ..head),) },
        ..it.table.cells.map(cell),
      )
      // Where all pages are of one kind its room is known.
      let whole = paper.page.width - paper.page.left - paper.page.right
      block(above: 6pt, below: 8pt, if paper.runs.len() == 0 { set-table(whole) } else { layout(size => set-table(size.width / 1pt)) })
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
// What is said about a page, in the column beside it: each as near to its line as the others leave it, none of them cut.
#let column = paper.column * 1pt
#let beside = context {
  let now = here().page()
  let mine = query(<remark>).filter(it => it.location().page() == now).sorted(key: it => it.location().position().y)
  // Smaller ones have longer lines, so that the column is as wide.
  let shown(it, part) = {
    let one = paper.remarks.at(it.value - 1)
    block(width: (column - 22pt) / part, above: 0pt, below: 0pt, {
      set text(size: 8pt, fill: luma(30), hyphenate: true)
      set par(leading: 2pt, spacing: 3pt, justify: false)
      text(weight: "bold", str(it.value) + " " + one.head)
      if one.words != "" { parbreak(); one.words }
    })
  }
  let gap = 5pt
  let room = page.height - 24pt
  let part = 1
  let highs = mine.map(it => measure(shown(it, 1)).height)
  let all = highs.sum(default: 0pt) + gap * mine.len()
  while all * part > room and part > 0.1 {
    part = part * 0.85
    highs = mine.map(it => measure(shown(it, part)).height)
    all = highs.sum(default: 0pt) + gap * mine.len()
  }
  if all * part > room { part = room / all }
  let tops = ()
  let free = 12pt
  for (n, it) in mine.enumerate() {
    let above = calc.max(free, it.location().position().y - 8pt)
    tops.push(above)
    free = above + (highs.at(n) + gap) * part
  }
  let end = page.height - 12pt
  for n in range(mine.len()).rev() {
    let above = calc.min(tops.at(n), end - highs.at(n) * part)
    tops.at(n) = above
    end = above - gap * part
  }
  let from = page.width - column
  place(top + left, line(start: (from, 18pt), end: (from, page.height - 18pt), stroke: 0.5pt + luma(170)))
  for (n, it) in mine.enumerate() {
    place(top + left, dx: from + 12pt, dy: tops.at(n), scale(part * 100%, origin: top + left, reflow: false, shown(it, part)))
  }
}
${setsWhatItSays}
#set page(
  width: paper.page.width * 1pt + column,
  height: paper.page.height * 1pt,
  margin: (
    top: paper.page.top * 1pt,
    right: paper.page.right * 1pt + column,
    bottom: paper.page.bottom * 1pt,
    left: paper.page.left * 1pt,
  ),
  header: at-edge(paper.head, bottom),
  footer: at-edge(paper.foot, top),
  foreground: if column > 0pt { beside },
  background: if paper.corner != "" {
    place(bottom + right, dx: -18pt, dy: -14pt, text(size: 7.5pt, fill: luma(90), paper.corner))
  },
)
#set text(lang: paper.language, hyphenate: false, top-edge: 0.8em, bottom-edge: -0.2em, size: 11pt)
#set heading(numbering: none)
#show heading: it => it.body
#show link: it => it
#blocks(paper.blocks)
// Pages of several kinds: each kind begins on a new one; parts that have columns of their own follow each other on them.
#for kind in paper.runs {
  let alone = kind.parts.len() == 1
  set page(
    width: kind.page.width * 1pt + column,
    height: kind.page.height * 1pt,
    margin: (
      top: kind.page.top * 1pt,
      right: kind.page.right * 1pt + column,
      bottom: kind.page.bottom * 1pt,
      left: kind.page.left * 1pt,
    ),
    columns: if alone { kind.parts.first().columns } else { 1 },
  )
  set columns(gutter: kind.parts.first().gap * 1pt)
  for part in kind.parts {
    if alone or part.columns < 2 { blocks(part.blocks) }
    else { block(width: 100%, columns(part.columns, gutter: part.gap * 1pt, blocks(part.blocks))) }
  }
}
// Where on the pages each of what is said about them is, for notes that are put there.
#if paper.at("notes", default: false) {
  context [#metadata(query(<remark>).map(it => { let at = it.location().position(); (it.value, at.page, at.y.pt()) }))<remarks>]
}
// On which page each of what said where it begins is.
#if paper.at("places", default: false) { context [#metadata(query(<at>).map(it => (it.value, it.location().page())))<places>] }
`
