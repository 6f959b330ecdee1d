// Documents on pages: set by a typesetter in processes of its own, which are ended where one takes more than its share of
// time. What people wrote goes to it as data (core/paper), and it can read nothing but that.
import { existsSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { NodeCompiler } from '@myriaddreamin/typst-ts-node-compiler'
import { documentFromJSON, type Page } from '../../core/content/document'
import type { SheetPaper } from '../../core/content/sheet-paper'
import { type OnPaper, type PaperChoices, type PaperFacts, type PaperStandard, ShownSheets } from '../../core/contract'
import { styleLooksOf } from '../../core/formats/documents'
import { DamagedFile } from '../../core/formats/refusals'
import { pageWith, sheetWith, writtenTree } from '../../core/paper/choices'
import { paperOf } from '../../core/paper/from-document'
import { mostCells, mostPages, sheetsPaper } from '../../core/paper/from-sheets'
import type { PaperBlock, PaperCell, PaperImage } from '../../core/paper/paper'
import { sheetTemplate } from '../../core/paper/sheet-template'
import type { ShownSheet } from '../../core/paper/shown'
import { dataPath, template } from '../../core/paper/template'
import { type Sentence, saidBy, say } from '../../core/words/said'
import { openPool, TaskEnded } from '../threads/pool'
import { fontFolders, measureFont } from './measure'

export interface ToTypeset extends Omit<OnPaper, 'what'> {
  what:
    | {
        kind: 'document'
        json?: unknown
        /** The file that says how styles look. */
        styles: { bytes: Uint8Array; type: string } | null
      }
    | { kind: 'sheets'; sheets?: unknown }
}
export type Typeset = (asked: ToTypeset) => Promise<{ pdf: Uint8Array; facts: PaperFacts } | { fault: Sentence }>

/** As the typesetter calls them. */
const standards: Record<PaperStandard, string | undefined> = { plain: undefined, archive: 'a-2a', accessible: 'ua-1' }
/** What it keeps of earlier pages is let go of after so many others. */
const keptFor = 10
/** Letters of a document; it then takes some two gigabytes, and half a minute. */
const mostLetters = 12_000_000
/** Of so many pages nothing is kept: it would be as much as the machine has. */
const many = 150

/** No folder that is there: what it reads is what it is given. */
const folder = join(tmpdir(), 'jaula-reads-nothing')
let kept: NodeCompiler | undefined
/** Fetched when the first pages are set: a machine that it was not built for does all else. */
async function typesetter(): Promise<NodeCompiler> {
  if (kept) return kept
  const { NodeCompiler } = await import('@myriaddreamin/typst-ts-node-compiler')
  kept = NodeCompiler.create({
    workspace: folder,
    fontArgs: [{ fontPaths: fontFolders.filter((path) => existsSync(path)) }],
  })
  return kept
}

/** Has pictures that cannot be drawn keep their places. @returns how many */
function withoutImages(blocks: readonly PaperBlock[], bad: ReadonlySet<string>): number {
  let count = 0
  const cells = (all: readonly PaperCell[]) => {
    for (const cell of all) count += withoutImages(cell.blocks, bad)
  }
  for (const block of blocks) {
    if ('p' in block) {
      for (const run of block.p.runs)
        if ('image' in run && bad.has(run.image)) {
          run.image = ''
          count++
        }
    } else if ('quote' in block) count += withoutImages(block.quote, bad)
    else if ('list' in block) for (const item of block.list) count += withoutImages(item, bad)
    else if ('table' in block) {
      cells(block.table.head)
      cells(block.table.cells)
    }
  }
  return count
}

/** Sets a tree. @returns null where it cannot be set */
function setTree(compiler: NodeCompiler, program: string, written: string) {
  compiler.mapShadow(join(folder, dataPath), Buffer.from(written))
  const result = compiler.compile({ mainFileContent: program })
  return { pages: result.result, why: () => JSON.stringify(result.takeDiagnostics()?.shortDiagnostics) }
}

async function setDocument(
  what: Extract<ToTypeset['what'], { kind: 'document' }>,
  { name, number, day, language, choices, corner }: ToTypeset,
) {
  let doc: ReturnType<typeof documentFromJSON>
  try {
    doc = documentFromJSON(what.json)
  } catch (error) {
    if (error instanceof RangeError || error instanceof TypeError) return { fault: say('problem.no-document') }
    throw error
  }
  if (doc.type.name !== 'doc') return { fault: say('problem.no-document') }
  if (doc.content.size > mostLetters) return { fault: say('problem.too-long-to-set', { most: mostLetters }) }
  const looks = what.styles ? styleLooksOf(what.styles.bytes, what.styles.type) : []
  const page = pageWith(doc.attrs.page as Page, choices)
  const laid = doc.type.create({ ...doc.attrs, page }, doc.content)
  const { paper, images, notes } = paperOf(laid, { looks, name, version: number, day, language })
  const compiler = await typesetter()
  const draws = (image: PaperImage) =>
    !compiler.compile({ mainFileContent: `#image(${JSON.stringify(image.name)}, alt: "")` }).hasError()
  compiler.resetShadow()
  for (const image of images) compiler.mapShadow(join(folder, image.name), Buffer.from(image.bytes))
  const set = () => setTree(compiler, template, writtenTree({ ...paper, ...chosen(choices, corner) }, choices.colours))
  let result = set()
  if (!result.pages && images.length) {
    const bad = new Set(images.filter((image) => !draws(image)).map((image) => image.name))
    for (const edge of [paper.head, paper.foot])
      for (const blocks of Object.values(edge)) notes.undrawn += withoutImages(blocks, bad)
    notes.undrawn += withoutImages(paper.blocks, bad)
    if (bad.size) result = set()
  }
  return { ...result, notes, landscape: page.width > page.height }
}

async function setSheets(
  what: Extract<ToTypeset['what'], { kind: 'sheets' }>,
  { name, day, time, language, choices, corner }: ToTypeset,
) {
  const sheets = ShownSheets.safeParse(what.sheets)
  if (!sheets.success) return { fault: say('problem.no-sheets') }
  const shown = sheets.data.map((sheet) => ({ ...sheet, paper: sheetWith(sheet.paper as SheetPaper, choices) }))
  const found = sheetsPaper(shown as ShownSheet[], measureFont, { name, day, time, language })
  if ('tooMany' in found) return { fault: say('problem.too-many-pages', { pages: found.tooMany, most: mostPages }) }
  if ('tooManyCells' in found)
    return { fault: say('problem.too-many-cells-to-set', { cells: found.tooManyCells, most: mostCells }) }
  const { paper, notes } = found
  if (!paper.pages.length) return { fault: say('problem.nothing-to-print') }
  const compiler = await typesetter()
  compiler.resetShadow()
  const written = writtenTree({ ...paper, ...chosen(choices, corner) }, choices.colours)
  return {
    ...setTree(compiler, sheetTemplate, written),
    notes,
    landscape: paper.pages[0]!.width > paper.pages[0]!.height,
  }
}
const chosen = ({ corner, properties }: PaperChoices, text: string) => ({
  corner: corner ? text : '',
  properties,
})

/** In this process. */
export const typesetHere: Typeset = async (asked) => {
  try {
    const { what, standard } = asked
    const set = what.kind === 'document' ? await setDocument(what, asked) : await setSheets(what, asked)
    if ('fault' in set) return { fault: set.fault! }
    if (!set.pages) throw new Error(`Pages could not be set: ${set.why()}`)
    const compiler = await typesetter()
    const pdfStandard = standards[standard]
    const pdf = compiler.pdf(set.pages, {
      ...(pdfStandard && { pdfStandard }),
      creationTimestamp: Math.floor(Date.now() / 1000),
    })
    const pages = set.pages.numOfPages
    compiler.evictCache(pages > many ? 0 : keptFor)
    return { pdf, facts: { pages, landscape: set.landscape, ...set.notes } }
  } catch (error) {
    if (error instanceof DamagedFile) return { fault: saidBy(error) }
    throw error
  }
}

/** @param script the built worker @param patience for one document; milliseconds */
export function typesetInProcesses(script: URL, patience = 60_000): { typeset: Typeset; close(): Promise<void> } {
  const pool = openPool(script, { processes: true, patience })
  return {
    async typeset(asked) {
      try {
        return await pool.run<Awaited<ReturnType<Typeset>>>(asked)
      } catch (error) {
        if (error instanceof TaskEnded) return { fault: say('problem.pages-take-too-long') }
        throw error
      }
    },
    close: () => pool.close(),
  }
}
