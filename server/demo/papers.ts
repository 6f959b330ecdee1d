// The words and figures of the demo data: made up, the same at every run.
import type { Node } from 'prosemirror-model'
import { documentSchema } from '../../core/content/document'
import type { Cell, CellStyle, Sheet, Workbook } from '../../core/content/workbook'

const { nodes, marks } = documentSchema
const text = (words: string) => (words ? documentSchema.text(words) : null)
export const p = (words: string): Node => nodes.paragraph.create(null, text(words))
export const h = (level: number, words: string): Node => nodes.heading.create({ level }, text(words))
export const list = (...items: string[]): Node =>
  nodes.bullet_list.create(
    null,
    items.map((item) => nodes.list_item.create(null, p(item))),
  )
export const doc = (...blocks: Node[]): Node => nodes.doc.create(null, blocks)
export function table(...rows: string[][]): Node {
  return nodes.table.create(
    null,
    rows.map((row, index) =>
      nodes.table_row.create(
        { header: index === 0 },
        row.map((cell) => nodes.table_cell.create(null, p(cell))),
      ),
    ),
  )
}

export const locks = ['LK01', 'LK02', 'LK03', 'LK04', 'LK05', 'LK06', 'LK07', 'LK08']
const findings = [
  'The upper paddle on the towpath side lifts freely.',
  'The lower gate leaks at the mitre, about a cupful a second.',
  'The quoin stones are sound, with fresh pointing to the third course.',
  'The balance beam has a shake of 40 mm on its north face.',
  'Chamber ladder secure; two rungs repainted.',
  'Silt at the tail of the lock, estimated 0.3 m.',
  'The windlass spindle was greased and turned through a full lift.',
  'Offside bollard loose in its socket; bedded with mortar.',
]

/** An inspection as it grew over its versions: each one has a little more in it. */
export function inspection(lock: string, subject: string, day: string, stage = findings.length): Node {
  return doc(
    h(1, `${subject} at ${lock}`),
    p(`Inspected on ${day} by the Merrowdale Canal Trust. Water level 0.12 m below weir; weather dry.`),
    h(2, 'What was found'),
    list(...findings.slice(0, Math.max(1, stage))),
    ...(stage > 4
      ? [
          h(2, 'What is to be done'),
          table(
            ['Work', 'By', 'Before'],
            ['Caulk the mitre of the lower gate', 'Workshop', '2026-12-01'],
            ['Bed the offside bollard', 'Volunteers', '2026-11-21'],
          ),
        ]
      : []),
    ...(stage > 6 ? [p('The lock stays open to boats. Next inspection in six months.')] : []),
  )
}

/** What every inspection is written on: nothing of an earlier one stands in it. */
export const inspectionForm = (): Node =>
  doc(
    h(1, 'Inspection'),
    p('Lock and part inspected:'),
    p('Inspected on, and by:'),
    p('Water level and weather:'),
    h(2, 'What was found'),
    list('Upper gate:', 'Lower gate:', 'Paddles:', 'Chamber and ladder:'),
    h(2, 'What is to be done'),
    table(['Work', 'By', 'Before'], ['', '', '']),
  )

export const notice = (lock: string, from: string, to: string, why: string): Node =>
  doc(
    h(1, `Stoppage at ${lock}`),
    nodes.paragraph.create(null, [
      documentSchema.text('Closed from '),
      documentSchema.text(`${from} to ${to}`, [marks.strong.create()]),
      documentSchema.text(`. ${why}`),
    ]),
    p('Boats may wait at the visitor moorings above BR04. The towpath stays open throughout; please follow the signs.'),
    nodes.blockquote.create(null, [p('We are sorry for the delay, and grateful for your patience.')]),
  )

export const minutes = (day: string, points: string[]): Node =>
  doc(
    h(1, `Minutes of the works meeting, ${day}`),
    p('Present: Ida Thornquist, Ben Marlowe, Priya Nandakumar.'),
    h(2, 'Decided'),
    list(...points),
  )

export const letter = (to: string, subject: string): Node =>
  doc(
    p(to),
    p('Dear Sir or Madam,'),
    h(2, subject),
    p(
      'The Trust invites tenders for the works described in the attached schedule. Offers are to reach us in writing, stating price, start and duration.',
    ),
    p('Yours faithfully,'),
    p('Ben Marlowe, Engineer'),
  )

const head: CellStyle = { bold: true, fill: '#efe6cf' }
const day: CellStyle = { format: 'yyyy-mm-dd' }
const money: CellStyle = { format: '#,##0.00' }
const cells = (...values: (string | number | Cell)[]): Cell[] =>
  values.map((value) => (typeof value === 'object' ? value : { value }))
const sheet = (name: string, rows: Cell[][], widths: Record<number, number> = {}): Sheet => ({ name, rows, widths })
const heads = (...names: string[]): Cell[] => names.map((value) => ({ value, style: head }))

/** Deterministic noise, so that the figures look measured (Park and Miller 1988). */
function noise(seed: number): () => number {
  let state = seed
  return () => {
    state = (state * 48271) % 2147483647
    return state / 2147483647
  }
}

/** Days of 2026 from a serial number: 46023 is 2026-01-01. */
const firstOf2026 = 46023

export function lockages(entries: number): Workbook {
  const roll = noise(7)
  const rows = [heads('Day', 'Lock', 'Direction', 'Boats', 'Water used m³')]
  for (let i = 0; i < entries; i++) {
    const boats = 1 + Math.floor(roll() * 3)
    rows.push([
      { value: firstOf2026 + Math.floor((i / entries) * 320), style: day },
      { value: locks[Math.floor(roll() * locks.length)]! },
      { value: roll() < 0.5 ? 'up' : 'down' },
      { value: boats },
      { formula: `D${i + 2}*112`, style: { format: '#,##0' } },
    ])
  }
  const perLock = [
    heads('Lock', 'Lockages', 'Boats'),
    ...locks.map((lock, index) =>
      cells(
        lock,
        { formula: `COUNTIF(Ledger!B:B,A${index + 2})` },
        { formula: `SUMIF(Ledger!B:B,A${index + 2},Ledger!D:D)` },
      ),
    ),
  ]
  return { sheets: [sheet('Ledger', rows, { 0: 110, 4: 130 }), sheet('By lock', perLock)] }
}

/** The budget as its nth version has it: each spends on a few items, some revise the plan or add an item. */
export function budget(version: number): Workbook {
  const roll = noise(40)
  const items = [
    'Gate paddles',
    'Lock gates',
    'Dredging',
    'Towpath',
    'Bridges',
    'Vegetation',
    'Moorings',
    'Signs and notices',
  ]
  const plan = items.map((item) => ({ item, planned: Math.round(roll() * 400) * 50 + 3000, spent: 0 }))
  for (let now = 2; now <= version; now++) {
    const revised = now % 10 === 0
    const many = revised ? plan.length : 1 + Math.floor(roll() * 3)
    for (let one = 0; one < many; one++) {
      const open = plan.filter(({ planned, spent }) => revised || spent < planned)
      const line = open[Math.floor(roll() * open.length)] ?? plan[0]!
      line.spent = Math.min(line.planned, Math.round((line.spent + line.planned * roll() * 0.2) * 100) / 100)
      if (revised) line.planned += Math.round(roll() * 20) * 50
    }
    if (now === 8) plan.splice(6, 0, { item: 'Pumps', planned: 2300, spent: 0 })
    if (now === 17) plan.push({ item: 'Workshop', planned: 1950, spent: 0 })
    if (now === 24) plan.splice(2, 0, ...plan.splice(4, 1))
  }
  const rows = [heads('Item', 'Planned', 'Spent', 'Left', 'Share spent')]
  plan.forEach(({ item, planned, spent }, index) => {
    rows.push([
      { value: item },
      { value: planned, style: money },
      { value: spent, style: money },
      { formula: `B${index + 2}-C${index + 2}`, style: money },
      { formula: `C${index + 2}/B${index + 2}`, style: { format: '0%' } },
    ])
  })
  rows.push([
    { value: 'All', style: { bold: true } },
    ...['B', 'C', 'D'].map((column) => ({
      formula: `SUM(${column}2:${column}${plan.length + 1})`,
      style: { ...money, bold: true as const },
    })),
  ])
  return { sheets: [sheet('2026', rows, { 0: 170, 1: 110, 2: 110, 3: 110 })] }
}

export function levels(): (string | number)[][] {
  const roll = noise(3)
  return [
    ['Day', ...locks],
    ...Array.from({ length: 60 }, (_, i) => [
      `2026-${String(9 + Math.floor(i / 30)).padStart(2, '0')}-${String((i % 30) + 1).padStart(2, '0')}`,
      ...locks.map(() => Math.round((1.4 + roll() * 0.3) * 100) / 100),
    ]),
  ]
}
