import { setsWhatItSays } from './paper'
import { dataPath } from './template'

/**
 * The typesetter's program for sheets: their pages are parted already (sheet-pages.ts), so that it only puts them down. It
 * is the same for every workbook (Typst 0.14, https://typst.app/docs/reference).
 */
export const sheetTemplate = `#let paper = json("${dataPath}")
${setsWhatItSays}
#set text(lang: paper.language, hyphenate: false, top-edge: 0.94em, bottom-edge: -0.28em)
#set par(leading: 0pt, spacing: 0pt, justify: false)
#set heading(numbering: none)
#show heading: it => it.body
#let sides = (left: left, center: center, right: right)
#let heights = (top: top, middle: horizon, bottom: bottom)
#let line-of(border, scale) = stroke(
  thickness: calc.max(0.25, border.width * scale) * 1pt,
  paint: if border.color == none { black } else { rgb(border.color) },
  dash: border.dash,
)
#let run(it) = {
  let given = (:)
  if "size" in it { given.insert("size", it.size * 1pt) }
  if "font" in it { given.insert("font", it.font) }
  if "bold" in it { given.insert("weight", "bold") }
  if "italic" in it { given.insert("style", "italic") }
  let body = text(..given, it.t.split("\\n").join(linebreak()))
  if "underline" in it { body = underline(body) }
  if "strike" in it { body = strike(body) }
  body
}
#let edge(thirds, page) = {
  let width = page.width - page.margins.left - page.margins.right
  box(width: width * 1pt, text(size: 10pt, font: paper.font, grid(
    columns: (1fr, 1fr, 1fr),
    ..("left", "center", "right").map(side => align(sides.at(side), thirds.at(side).map(run).join())),
  )))
}
#let sheet-page(page, sheet) = {
  let scale = page.scale
  let cells = page.cells.map(one => {
    let look = sheet.looks.at(one.look)
    let stroked = (:)
    for (side, border) in look.at("borders", default: (:)) { stroked.insert(side, line-of(border, scale)) }
    let body = if one.lines.len() == 0 { none } else {
      let given = (size: look.size * one.at("smaller", default: 1) * scale * 1pt, font: look.font)
      if "bold" in look { given.insert("weight", "bold") }
      if "italic" in look { given.insert("style", "italic") }
      if "color" in look { given.insert("fill", rgb(look.color)) }
      if "heading" in one { given.insert("fill", luma(90)) }
      let body = text(..given, one.lines.join(linebreak()))
      if "underline" in look { body = underline(body) }
      if "strike" in look { body = strike(body) }
      body
    }
    table.cell(
      x: one.x,
      y: one.y,
      colspan: one.columns,
      rowspan: one.rows,
      align: sides.at(one.side) + heights.at(look.at("vertical", default: "bottom")),
      fill: if "heading" in one { luma(236) } else if "fill" in look { rgb(look.fill) },
      ..if "heading" in one { (stroke: 0.25pt + luma(150)) } else if stroked.len() > 0 { (stroke: stroked) },
      body,
    )
  })
  let head = cells.enumerate().filter(((at, _)) => page.cells.at(at).y < page.titles).map(((_, cell)) => cell)
  let rest = cells.enumerate().filter(((at, _)) => page.cells.at(at).y >= page.titles).map(((_, cell)) => cell)
  table(
    columns: page.columns.map(width => width * scale * 1pt),
    rows: page.rows.map(height => height * scale * 1pt),
    inset: (x: 2pt * scale, y: 0.5pt * scale),
    stroke: if page.grid { 0.25pt + luma(170) },
    ..if head.len() > 0 { (table.header(repeat: false, ..head),) },
    ..rest,
  )
}
#for one in paper.pages {
  let sheet = paper.sheets.at(one.sheet)
  page(
    width: one.width * 1pt,
    height: one.height * 1pt,
    margin: (top: one.margins.top * 1pt, right: 0pt, bottom: 0pt, left: one.margins.left * 1pt),
    background: {
      if one.head != none { place(top + left, dx: one.margins.left * 1pt, dy: one.margins.head * 1pt, edge(one.head, one)) }
      if paper.corner != "" {
        place(bottom + right, dx: -18pt, dy: -14pt, text(size: 7.5pt, font: paper.font, fill: luma(90), paper.corner))
      }
      if one.foot != none { place(bottom + left, dx: one.margins.left * 1pt, dy: -one.margins.foot * 1pt, edge(one.foot, one)) }
    },
    {
      if one.first { place(hide(heading(sheet.name))) }
      place(dx: one.dx * 1pt, dy: one.dy * 1pt, sheet-page(one, sheet))
    },
  )
}
`
