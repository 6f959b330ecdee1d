// Merging, and two people who save one file a thousand times: each edit is a mark of its own, which must be in
// the file or in a conflict that was shown.

import { randomUUID } from 'node:crypto'
import { unbounded } from '../server/counts/quotas'
import 'reflect-metadata'
import type { Node } from 'prosemirror-model'
import { compareWorkbooks } from '../core/compare/workbook'
import type { Workbook } from '../core/content/workbook'
import { applyOps } from '../core/content/workbook-ops'
import type { Saved } from '../core/contract'
import { readDocx } from '../core/formats/docx/read'
import { writeDocx } from '../core/formats/docx/write'
import { mergeDocuments } from '../core/merge/document'
import { mergeWorkbooks } from '../core/merge/workbook'
import { openDatabase } from '../server/database'
import { doc, h, p } from '../server/demo/papers'
import { Refusal } from '../server/refusal'
import { keepVersion } from '../server/saving/keep'
import { openContents } from '../server/storage/content'
import { largeWorkbook } from './papers'
import { inTurn, report } from './report'
import { chance, writer } from './series'

const contents = openContents()

const suite = 'merge'
const rounds = Number(process.env.BENCH_SOAK ?? 1000)
const { pick, paragraph } = writer(13)
const paper = (list: readonly string[]): Node =>
  doc(...list.map((text) => (text[0] === '#' ? h(2, text.slice(2)) : p(text))))

{
  const database = await openDatabase(process.env.BENCH_DATABASE_URL!)
  const [person] = await database.query("select id from person where handle = 'priya'")
  const [share] = await database.query(
    "select realm_id as id from access_grant where person_id = $1 and role = 'manage' limit 1",
    [person.id],
  )
  const save = (bytes: Uint8Array, target: { fileId: string; baseId: string } | null) =>
    keepVersion(database, unbounded, {
      personId: person.id,
      bytes: Buffer.from(bytes),
      reason: 'saved',
      key: randomUUID(),
      target: target ?? { place: { shareId: share.id, folderId: null, name: `${randomUUID()}.docx` } },
    })
  const first = await save(writeDocx(paper(Array.from({ length: 40 }, paragraph))), null)
  const headNow = async (): Promise<{ id: string; doc: Node }> => {
    const [row] = await database.query(
      'select v.id, v.sha256 from entry e join version v on v.id = e.head_version_id where e.id = $1',
      [first.file.id],
    )
    return { id: row.id, doc: readDocx(await contents.whole(database.manager, row.sha256)).doc }
  }
  const shown: string[] = []
  let merges = 0
  /** One person: edits, saves, merges when the other was first, chooses at random where both wrote. */
  async function work(name: string, seed: number): Promise<string[]> {
    const random = chance(seed)
    const marks: string[] = []
    let base = await headNow()
    let mine = base.doc
    for (let round = 0; round < rounds; round++) {
      const mark = `${name}${round}x`
      marks.push(mark)
      const index = Math.floor(random() * mine.childCount)
      const block = mine.child(index)
      // Between words, so that no mark is written into another one.
      const space = block.textContent.indexOf(' ', Math.floor(random() * block.content.size))
      const at = space < 0 ? block.content.size : space
      const text = mine.type.schema.text(` ${mark} `)
      mine = mine.copy(
        mine.content.replaceChild(
          index,
          block.copy(block.content.cut(0, at).addToEnd(text).append(block.content.cut(at))),
        ),
      )
      for (;;) {
        try {
          const saved: Saved = await save(writeDocx(mine), { fileId: first.file.id, baseId: base.id })
          base = { id: saved.version.id, doc: mine }
          break
        } catch (error) {
          if (!(error instanceof Refusal) || error.problem.type !== 'newer-version') throw error
          const head = await headNow()
          const merged = mergeDocuments(base.doc, mine, head.doc)
          merges++
          shown.push(...merged.conflicts.map((conflict) => JSON.stringify(conflict)))
          mine = merged.doc
          base = head
        }
      }
    }
    return marks
  }
  const marks = (await Promise.all([work('ida', 1), work('ben', 2)])).flat()
  const text = (await headNow()).doc.textContent + shown.join('')
  const lost = marks.filter((mark) => !text.includes(mark))
  report({
    suite,
    case: 'soak-lost-edits',
    value: lost.length,
    unit: `of ${marks.length} edits by two people, ${merges} merges, ${shown.length} shown conflicts`,
    baseline: null,
    better: 'lower',
  })
  await database.destroy()
}

// The baseline copies the three models by way of JSON: the least that looking at all of them costs.
const copied = (...models: unknown[]) => models.map((model) => JSON.parse(JSON.stringify(model)))
{
  const blocks = Array.from({ length: 1000 }, (_, at) => (at % 20 === 0 ? `# Lock ${at}` : paragraph()))
  const edit = (mark: string) => {
    const list = [...blocks]
    for (let times = 0; times < 250; times++) list[pick(list.length)] += ` ${mark}${times}.`
    return paper(list)
  }
  const [base, mine, theirs] = [paper(blocks), edit('mine'), edit('theirs')]
  const { ours, baseline } = await inTurn(
    7,
    () => mergeDocuments(base, mine, theirs),
    () => copied(base.toJSON(), mine.toJSON(), theirs.toJSON()),
  )
  report({ suite, case: 'document-100-pages', value: ours, unit: 'ms', baseline, better: 'lower' })
}
{
  const base: Workbook = largeWorkbook(200_000)
  const edit = (rowsIn: number) => {
    const cells = Array.from({ length: 500 }, () => ({
      row: pick(10_000),
      column: pick(18),
      cell: { value: pick(1e6) },
    }))
    return structuredClone(
      applyOps(base, [
        { op: 'cells', sheet: 0, cells },
        ...Array.from({ length: rowsIn }, () => ({
          op: 'insert' as const,
          sheet: 0,
          axis: 'rows' as const,
          at: pick(10_000),
          count: 1,
        })),
      ]),
    )
  }
  const [mine, theirs] = [edit(10), edit(10)]
  const { ours, baseline } = await inTurn(
    5,
    () => {
      const { workbook } = mergeWorkbooks(base, mine, theirs)
      compareWorkbooks(mine, workbook)
    },
    () => copied(base, mine, theirs),
  )
  report({
    suite,
    case: 'cells-200k',
    value: ours,
    unit: 'ms, with the operations for the editor',
    baseline,
    better: 'lower',
  })
}
