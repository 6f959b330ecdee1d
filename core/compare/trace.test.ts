import fc from 'fast-check'
import type { Node } from 'prosemirror-model'
import { describe, expect, test } from 'vitest'
import { documentSchema } from '../content/document'
import { anyDocument } from '../content/document.arbitrary'
import { anyEdit, edited } from '../content/document-edits.arbitrary'
import { anyHistory } from '../content/workbook.arbitrary'
import { applyOp } from '../content/workbook-ops'
import { writeDocx } from '../formats/docx/write'
import { writeXlsx } from '../formats/xlsx/write'
import { english } from '../words/testing'
import { compareFiles } from './files'
import { documentOfLines } from './lines'
import { unitsOf } from './text-blocks'
import { Tracer } from './trace'

const { nodes } = documentSchema
const p = (text: string) => nodes.paragraph.create(null, text ? documentSchema.text(text) : null)
const doc = (...blocks: Node[]) => nodes.doc.create(null, blocks)

describe('following a place back', () => {
  test('a paragraph that says something of its own is found in each version that has it', () => {
    const own = 'The windlass of the lower gate was greased in October by the volunteers.'
    fc.assert(
      fc.property(
        anyDocument,
        fc.array(fc.array(anyEdit, { maxLength: 4 }), { maxLength: 5 }),
        fc.nat(),
        (start, rounds, at) => {
          const place = at % (start.childCount + 1)
          const first = doc(...start.content.content.slice(0, place), p(own), ...start.content.content.slice(place))
          const versions = [first]
          for (const edits of rounds) {
            const next = edited(versions.at(-1)!, edits)
            if (!unitsOf(next).some((unit) => unit.kind === 'text' && unit.text === own)) break
            versions.push(next)
          }
          const newest = versions.at(-1)!
          const unit = unitsOf(newest).find((one) => one.kind === 'text' && one.text === own)!
          const tracer = new Tracer({ kind: 'document', doc: newest }, { kind: 'paragraph', at: unit.at })
          for (const earlier of versions.slice(0, -1).reverse()) {
            expect(tracer.back({ kind: 'document', doc: earlier })).toBe(own)
            const here = tracer.place
            expect(here?.kind === 'paragraph' && earlier.resolve(here.at).parent.textContent).toBe(own)
          }
          expect(tracer.back({ kind: 'document', doc: start })).not.toBe(own)
        },
      ),
      { numRuns: 80 },
    )
  })
  test('a cell is found where rows and columns have moved it', () => {
    fc.assert(
      fc.property(
        anyHistory(0),
        fc.nat(5),
        fc.nat(5),
        fc.constantFrom('rows', 'columns'),
        (history, at, count, axis) => {
          const rows = Array.from({ length: 8 }, (_, y) =>
            Array.from({ length: 6 }, (_, x) => ({ value: `${y}/${x}` })),
          )
          const start = { sheets: [{ name: 'Levels', rows, widths: {} }, ...history.start.sheets] }
          const end = applyOp(start, { op: 'insert', sheet: 0, axis: axis as 'rows' | 'columns', at, count: count + 1 })
          const moved = 4 >= at ? 4 + count + 1 : 4
          const place =
            axis === 'rows'
              ? { kind: 'cell' as const, sheet: 'Levels', row: moved, column: 2 }
              : { kind: 'cell' as const, sheet: 'Levels', row: 2, column: moved }
          const tracer = new Tracer({ kind: 'spreadsheet', workbook: end, results: [], papers: [] }, place)
          expect(tracer.text).toBe(axis === 'rows' ? '4/2' : '2/4')
          expect(tracer.back({ kind: 'spreadsheet', workbook: start, results: [], papers: [] })).toBe(
            axis === 'rows' ? '4/2' : '2/4',
          )
          expect(tracer.place).toMatchObject(axis === 'rows' ? { row: 4, column: 2 } : { row: 2, column: 4 })
        },
      ),
      { numRuns: 60 },
    )
  })
})

describe('files of any type', () => {
  const text = (said: string) => new TextEncoder().encode(said)
  test('are compared by meaning, by lines, by eye or by the facts', () => {
    const docx = (said: string) => ({ type: 'docx', bytes: writeDocx(doc(p(said))) })
    expect(compareFiles(docx('a gate'), docx('a lower gate'))).toMatchObject({ kind: 'document', weight: 1 })
    const sheet = (value: number) => ({
      type: 'xlsx',
      bytes: writeXlsx({ sheets: [{ name: 'A', widths: {}, rows: [[{ value }]] }] }),
    })
    expect(english(compareFiles(sheet(1), sheet(2)).summary)).toBe('1 cell changed in ‹A›.')
    expect(compareFiles(sheet(1), sheet(2))).toMatchObject({ kind: 'spreadsheet' })
    const csv = (said: string) => ({ type: 'csv', bytes: text(said) })
    expect(english(compareFiles(csv('a,1\r\nb,2'), csv('a,1\r\nb,3')))).toMatchObject({
      kind: 'spreadsheet',
      summary: '1 cell changed in ‹Sheet 1›.',
    })
    // Written otherwise it holds the same.
    expect(compareFiles(csv('a,1.5\r\nb,2'), csv('a;1,5\nb;2')).weight).toBe(0)
    const txt = (said: string) => ({ type: 'txt', bytes: text(said) })
    expect(english({ ...compareFiles(txt('one\r\ntwo'), txt('one\r\nthree')) })).toMatchObject({
      kind: 'lines',
      summary: '1 word added, 1 removed.',
    })
    const png = (byte: number) => ({ type: 'png', bytes: new Uint8Array([137, byte]) })
    expect(compareFiles(png(1), png(2)).kind).toBe('images')
    expect(english(compareFiles(png(1), png(1)))).toMatchObject({ summary: 'Not a byte differs.', weight: 0 })
    expect(
      english(compareFiles({ type: 'pdf', bytes: new Uint8Array(1500) }, { type: 'pdf', bytes: new Uint8Array(900) })),
    ).toMatchObject({
      kind: 'facts',
      summary: '900 bytes, before 1.5 KB.',
    })
    // A damaged file is told by its facts, and another type than before by both.
    expect(compareFiles(docx('a'), { type: 'docx', bytes: text('PK') }).kind).toBe('facts')
    expect(compareFiles(txt('a'), docx('a'))).toMatchObject({ kind: 'document', weight: 0 })
    expect(english(compareFiles(sheet(1), docx('a')).summary)).toContain('of type docx and no longer xlsx')
  })
  test('text is read in the encoding it is in; what is no text is not', () => {
    const lines = (bytes: Uint8Array) => documentOfLines(bytes)?.content.content.map(({ textContent }) => textContent)
    expect(lines(text('Schleuse\nGröße'))).toEqual(['Schleuse', 'Größe'])
    expect(lines(new Uint8Array([0xff, 0xfe, 0x57, 0, 0x65, 0]))).toEqual(['We'])
    expect(lines(new Uint8Array([0x47, 0x72, 0xf6]))).toEqual(['Grö'])
    expect(lines(new Uint8Array([1, 0, 2]))).toBeUndefined()
  })
})
