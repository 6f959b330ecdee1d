import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { PDFDocument } from 'pdf-lib'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { type Arranged, arrangedPdf, isPlain } from './arranged'
import { type Arrangement, plainArrangement } from './imposition'

let folder: string
let pdf: Uint8Array
const all = Array.from({ length: 7 }, (_, at) => at + 1)
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'jaula-arranged-'))
  const made = await PDFDocument.create()
  made.setTitle('Gates')
  for (const page of all) made.addPage([595.28, 841.89]).drawText(`page-${page}`, { x: 250, y: 420 })
  pdf = await made.save()
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** What each side says, from left to right and from top to bottom, as another program reads it. */
function readBack(bytes: Uint8Array): string[] {
  const file = join(folder, 'a.pdf')
  writeFileSync(file, bytes)
  execFileSync('qpdf', ['--check', file])
  return execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' })
    .split('\f')
    .slice(0, -1)
    .map((side) => (side.match(/page-\d/g) ?? []).join(' ').replaceAll('page-', ''))
}
const sizeOf = (bytes: Uint8Array) => {
  const file = join(folder, 'b.pdf')
  writeFileSync(file, bytes)
  return /Page size:\s+(\d+)\S* x (\d+)/
    .exec(execFileSync('pdfinfo', [file], { encoding: 'utf8' }))!
    .slice(1)
    .map(Number)
}
const arranged = (
  more: Partial<Arrangement>,
  chosen = all,
  paper: { width: number; height: number } | null = null,
): Promise<Arranged> => arrangedPdf(pdf, chosen, { ...plainArrangement, ...more }, paper)

test('two and four on a side, as another program reads them', async () => {
  const two = await arranged({ perSide: 2, frames: true })
  expect([two.faces, two.leaves, two.landscape, two.backs]).toEqual([4, 4, true, null])
  expect(readBack(two.pdf)).toEqual(['1 2', '3 4', '5 6', '7'])
  expect(sizeOf(two.pdf)).toEqual([841, 595])
  const down = await arranged({ perSide: 4, order: 'columns' })
  expect(readBack(down.pdf)).toEqual(['1 3 2 4', '5 7 6'])
  expect(sizeOf(down.pdf)).toEqual([595, 841])
  expect(sizeOf((await arranged({ perSide: 2 }, all, { width: 841.89, height: 1190.55 })).pdf)).toEqual([1190, 841])
})

test('a booklet, copies, odd pages backwards, both sides by hand', async () => {
  const folded = await arranged({ fold: { leaves: 0, margin: 8 }, sides: 'long' })
  expect(readBack(folded.pdf)).toEqual(['1', '2 7', '6 3', '4 5'])
  expect(folded.leaves).toBe(2)
  expect(readBack((await arranged({ copies: 2, sides: 'long' }, [1, 2, 3])).pdf)).toEqual([
    '1',
    '2',
    '3',
    '',
    '1',
    '2',
    '3',
    '',
  ])
  expect(readBack((await arranged({ copies: 2, collate: false }, [1, 2])).pdf)).toEqual(['1', '1', '2', '2'])
  expect(readBack((await arranged({ which: 'odd', reverse: true })).pdf)).toEqual(['7', '5', '3', '1'])
  const hand = await arranged({ sides: 'hand' }, [1, 2, 3])
  expect([readBack(hand.pdf), readBack(hand.backs!)]).toEqual([
    ['1', '3'],
    ['', '2'],
  ])
})

test('what is as it is needs no arranging', () => {
  expect(isPlain(all, 7, { ...plainArrangement, sides: 'long' })).toBe(true)
  expect(isPlain([1, 2], 7, plainArrangement)).toBe(false)
  for (const more of [
    { copies: 2 },
    { perSide: 2 },
    { reverse: true },
    { which: 'even' },
    { fold: { leaves: 0, margin: 0 } },
    { sides: 'hand' },
  ] as const)
    expect(isPlain(all, 7, { ...plainArrangement, ...more })).toBe(false)
})
