// Lists that come beside each other, or apart, when what was between them goes or comes.
import fc from 'fast-check'
import { strFromU8, unzipSync } from 'fflate'
import type { Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { expect, test } from 'vitest'
import { patchDocx } from './patch'
import { readDocx } from './read'
import { fileOf as docxOf, w } from './testing'

const level = (at: number, format: string) =>
  `<w:lvl w:ilvl="${at}"><w:start w:val="1"/><w:numFmt w:val="${format}"/><w:lvlText w:val="${format === 'bullet' ? '•' : `%${at + 1}.`}"/></w:lvl>`
const abstract = (id: number, format: string) =>
  `<w:abstractNum w:abstractNumId="${id}">${level(0, format)}${level(1, format)}</w:abstractNum>`
const num = (id: number, of: number) => `<w:num w:numId="${id}"><w:abstractNumId w:val="${of}"/></w:num>`
const numbering = `<w:numbering xmlns:w="${w}">${abstract(0, 'decimal')}${abstract(1, 'bullet')}${num(1, 0)}${num(2, 0)}${num(3, 1)}</w:numbering>`
const own = '<w:keepNext/>'
/** A line: of a list, at a level; or between lists, of number 0. */
const line = (number: number, depth: number, words: string) =>
  `<w:p><w:pPr>${own}${number ? `<w:numPr><w:ilvl w:val="${depth}"/><w:numId w:val="${number}"/></w:numPr>` : ''}</w:pPr><w:r><w:t>${words}</w:t></w:r></w:p>`
const fileOf = (lines: readonly (readonly [number: number, depth: number])[]) =>
  docxOf(lines.map(([number, depth], at) => line(number, depth, `Paddle ${at}`)).join(''), { numbering })
const part = (bytes: Uint8Array, name: string) => strFromU8(unzipSync(bytes)[`word/${name}.xml`]!)
const numbers = (bytes: Uint8Array) =>
  [...part(bytes, 'document').matchAll(/<w:p>.*?<\/w:p>/g)].map(([p]) =>
    Number(/numId w:val="(\d+)"/.exec(p)?.[1] ?? 0),
  )
const blockAt = (doc: Node, index: number) =>
  Array.from({ length: index }, (_, at) => doc.child(at).nodeSize).reduce((sum, size) => sum + size, 0)
const without = (doc: Node, index: number) => {
  const at = blockAt(doc, index)
  return new Transform(doc).delete(at, at + doc.child(index).nodeSize)
}

test('two lists that one number held apart stay two when what was between them goes, and count on as they did', () => {
  const file = fileOf([
    [1, 0],
    [1, 0],
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 0],
    [1, 0],
  ])
  const { doc } = readDocx(file)
  const target = without(doc, 1).doc
  expect(target.child(1).attrs.start).toBe(3)
  const { bytes, lost } = patchDocx(file, target)
  expect(lost).toEqual([])
  expect(readDocx(bytes).doc.eq(target)).toBe(true)
  // The first keeps its number; the others go on with one that looks like it.
  expect(numbers(bytes)).toEqual([1, 1, 4, 4, 0, 4])
  expect(part(bytes, 'numbering')).toBe(
    numbering.replace(
      num(3, 1),
      `${num(3, 1)}<w:num w:numId="4"><w:abstractNumId w:val="0"/><w:lvlOverride w:ilvl="0"><w:startOverride w:val="3"/></w:lvlOverride></w:num>`,
    ),
  )
  expect(part(bytes, 'document').split(own)).toHaveLength(7)
})

test('two lists that become one take one number', () => {
  const file = fileOf([
    [1, 0],
    [0, 0],
    [2, 0],
    [2, 1],
  ])
  const { doc } = readDocx(file)
  const change = without(doc, 1)
  const target = change.join(blockAt(doc, 1)).doc
  const { bytes, lost } = patchDocx(file, target)
  expect(lost).toEqual([])
  expect(numbers(bytes)).toEqual([1, 1, 2])
  expect(part(bytes, 'numbering')).toBe(numbering)
  // Of one number nothing is written.
  const same = fileOf([
    [3, 0],
    [0, 0],
    [3, 0],
  ])
  const read = readDocx(same).doc
  const joined = patchDocx(same, without(read, 1).join(blockAt(read, 1)).doc)
  expect(numbers(joined.bytes)).toEqual([3, 3])
  expect(part(joined.bytes, 'numbering')).toBe(numbering)
})

test('whatever goes from between lists, and whichever of them become one: the file reads as it was meant, with all it had', () => {
  const lines = fc.array(fc.tuple(fc.constantFrom(0, 0, 1, 2, 3), fc.constantFrom(0, 0, 1)), {
    minLength: 2,
    maxLength: 9,
  })
  fc.assert(
    fc.property(lines, fc.nat(), fc.boolean(), (lines, at, joins) => {
      // No list begins at its second level: behind another it would be that one's.
      const file = fileOf(lines.map(([number, depth], index) => [number, lines[index - 1]?.[0] ? depth : 0] as const))
      const { doc } = readDocx(file)
      fc.pre(doc.childCount > 1)
      const index = at % doc.childCount
      const change = without(doc, index)
      const { nodeBefore, nodeAfter } = change.doc.resolve(blockAt(doc, index))
      if (joins && nodeBefore?.type.name.endsWith('_list') && nodeAfter?.type === nodeBefore.type)
        change.join(blockAt(doc, index))
      const { bytes, lost } = patchDocx(file, change.doc)
      expect(lost).toEqual([])
      expect(readDocx(bytes).doc.eq(change.doc)).toBe(true)
      const paragraphs = part(bytes, 'document').match(/<w:p>/g) ?? []
      expect(part(bytes, 'document').split(own)).toHaveLength(paragraphs.length + 1)
    }),
    { numRuns: 200 },
  )
})

test('whatever points of a list go or come: those that count on behind them keep their numbers, as the page has them', () => {
  const lines = fc.array(fc.constantFrom(0, 1, 1, 2, 3), { minLength: 2, maxLength: 9 })
  fc.assert(
    fc.property(lines, fc.nat(), fc.boolean(), (lines, at, comes) => {
      const file = fileOf(lines.map((number) => [number, 0]))
      const { doc } = readDocx(file)
      const points: { at: number; node: Node; alone: boolean }[] = []
      doc.descendants((node, at, parent) => {
        if (node.type.name === 'list_item') points.push({ at, node, alone: parent!.childCount === 1 })
      })
      const point = points[at % Math.max(1, points.length)]
      fc.pre(!!point && (comes || !point.alone))
      const change = new Transform(doc)
      if (comes) change.insert(point!.at, point!.node)
      else change.delete(point!.at, point!.at + point!.node.nodeSize)
      const { bytes, lost } = patchDocx(file, change.doc)
      expect(lost).toEqual([])
      expect(readDocx(bytes).doc.eq(change.doc)).toBe(true)
    }),
    { numRuns: 200 },
  )
})
