import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { a4, documentSchema } from '../content/document'
import { anyDocument, anyTable } from '../content/document.arbitrary'
import type { StyleLook } from '../formats/docx/style-looks'
import { fontFor } from './fonts'
import { paperOf } from './from-document'
import type { PaperBlock, PaperCell, PaperParagraph } from './paper'

const usual = { looks: [] as StyleLook[], name: 'Levels', version: 3, day: 'today', language: 'en' }
const { nodes } = documentSchema
const docOf = (...content: Parameters<typeof nodes.doc.create>[1][]) =>
  nodes.doc!.create({ page: a4 }, content.flat() as never)
const paragraph = (words: string, attrs: object = {}) => nodes.paragraph!.create(attrs, documentSchema.text(words))
const first = (blocks: PaperBlock[]): PaperParagraph => (blocks[0] as { p: PaperParagraph }).p
const look = (more: Partial<StyleLook>): StyleLook => ({
  id: 'x',
  name: 'x',
  heading: 0,
  quote: false,
  named: false,
  usual: false,
  css: {},
  marks: [],
  offered: true,
  ...more,
})

describe('a document as a tree of paper', () => {
  test('paragraphs have the look of their style, and over it their own', () => {
    const looks = [
      look({
        usual: true,
        css: { 'font-family': '"Calibri", serif', 'font-size': '10pt', 'line-height': '1.2', 'margin-bottom': '6pt' },
      }),
      look({
        id: 'Note',
        named: true,
        css: { 'margin-left': '20pt', color: '#336699', 'font-weight': '700', 'border-left': '2pt dashed #112233' },
      }),
      look({ heading: 1, css: { 'font-size': '24pt', 'margin-top': '30pt', 'text-align': 'center' } }),
    ]
    const { paper, notes } = paperOf(
      docOf([
        paragraph('plain'),
        paragraph('noted', { style: 'Note', align: 'right', look: { after: 200, line: { exact: 300 }, first: -240 } }),
        nodes.heading!.create({ level: 1 }, documentSchema.text('Head')),
      ]),
      { ...usual, looks },
    )
    expect(first(paper.blocks)).toMatchObject({ after: 6, line: 1.2, text: { size: 10, font: ['Carlito'] } })
    expect(first(paper.blocks.slice(1))).toMatchObject({
      left: 20,
      align: 'right',
      after: 10,
      line: 1.5,
      first: -12,
      text: { size: 10, color: '#336699', bold: true },
      borders: { left: { width: 2, dash: 'dashed', color: '#112233' } },
    })
    expect(first(paper.blocks.slice(2))).toMatchObject({ level: 1, align: 'center', before: 30, text: { size: 24 } })
    expect(notes.substituted).toEqual([{ font: 'Calibri', by: 'Carlito', sameWidths: true }])
  })

  test('a picture is at most as large as its page, in its shape; what is no picture keeps its place', () => {
    const picture = (width: number, height: number, src = 'data:image/png;base64,AAAA') =>
      nodes.paragraph!.create(null, nodes.image!.create({ src, width, height }))
    const { paper, images, notes } = paperOf(
      docOf([picture(4000, 1000), picture(100, 60), picture(10, 10, 'x')]),
      usual,
    )
    const sizes = paper.blocks.map((block) => first([block]).runs[0] as { width: number; height: number })
    const room = (a4.width - a4.left - a4.right) / 20
    expect(sizes[0]!.width).toBeLessThanOrEqual(room)
    expect(sizes[0]!.width / sizes[0]!.height).toBeCloseTo(4)
    expect(sizes[1]).toMatchObject({ width: 75, height: 45 })
    expect([images.length, notes.undrawn]).toEqual([1, 1])
  })

  test('cells of any table lie beside each other, and each within it', () => {
    fc.assert(
      fc.property(anyTable, (node) => {
        const { paper } = paperOf(docOf([node]), usual)
        const block = paper.blocks[0] as Extract<PaperBlock, { table: unknown }>
        const { head, cells } = block.table
        const taken = new Set<string>()
        const place = ({ x, y, colspan, rowspan }: PaperCell) => {
          for (let down = 0; down < rowspan; down++)
            for (let over = 0; over < colspan; over++) {
              const key = `${x + over} ${y + down}`
              expect(taken.has(key)).toBe(false)
              taken.add(key)
              expect(x + over).toBeLessThan(block.columns)
              expect(y + down).toBeLessThan(node.childCount)
            }
        }
        for (const cell of [...head, ...cells]) place(cell)
        let all = 0
        node.forEach((row) => {
          all += row.childCount
        })
        expect(head.length + cells.length).toBe(all)
        let headRows = 0
        while (headRows < node.childCount - 1 && node.child(headRows).attrs.header) headRows++
        for (const { y, rowspan } of head) expect(y + rowspan).toBeLessThanOrEqual(headRows)
        if (block.widths) expect(block.widths).toHaveLength(block.columns)
      }),
    )
  })

  test('is plain data, of any document, with every letter of its text', () => {
    fc.assert(
      fc.property(anyDocument, (node) => {
        const { paper } = paperOf(node, usual)
        expect(JSON.parse(JSON.stringify(paper))).toEqual(paper)
        const said: string[] = []
        const walk = (blocks: PaperBlock[]): void => {
          for (const block of blocks)
            if ('p' in block) for (const run of block.p.runs) 't' in run && said.push(run.t)
            else if ('quote' in block) walk(block.quote)
            else if ('list' in block) block.list.forEach(walk)
            else if ('table' in block) for (const cell of [...block.table.head, ...block.table.cells]) walk(cell.blocks)
        }
        walk(paper.blocks)
        // A line that has nothing in it holds a sign without width, so that it is as high as one.
        const letters = (text: string) => text.replaceAll('\u200b', '')
        expect(letters(said.join(''))).toBe(letters(node.textContent))
      }),
    )
  })
})

test('a font is itself, one of the same widths, or one of the same kind', () => {
  expect(fontFor('Carlito')).toEqual({ family: 'Carlito', same: true, sameWidths: true })
  expect(fontFor(' times new roman')).toEqual({ family: 'Liberation Serif', same: false, sameWidths: true })
  expect(fontFor('Canal Sans')).toEqual({ family: 'Liberation Sans', same: false, sameWidths: false })
  expect(fontFor('Lock Mono')).toEqual({ family: 'Liberation Mono', same: false, sameWidths: false })
  expect(fontFor('')).toEqual({ family: 'Liberation Serif', same: false, sameWidths: false })
})
