// Documents on pages: set by a typesetter in processes of its own, which are ended where one takes more than its share of
// time. What people wrote goes to it as data (core/paper), and it can read nothing but that.
import { existsSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { NodeCompiler } from '@myriaddreamin/typst-ts-node-compiler'
import type { Node } from 'prosemirror-model'
import { keyOf } from '../../core/calc/engine'
import { type About, tidyAbout } from '../../core/content/about'
import { documentFromJSON, type Page } from '../../core/content/document'
import { noLooks } from '../../core/content/looks'
import { sizeOf } from '../../core/content/paper-sizes'
import { type Passage, passagesIn } from '../../core/content/passages'
import { type OnPaper, type PaperChoices, type PaperFacts, type PaperStandard, ShownSheets } from '../../core/contract'
import { readDocument, styleLooksOf } from '../../core/formats/documents'
import { type ReadPassages, readPassages } from '../../core/formats/docx/passages'
import type { StyleLook } from '../../core/formats/docx/style-looks'
import { documentNotOnPaper, sheetsNotOnPaper } from '../../core/formats/not-on-paper'
import { DamagedFile, type Limit } from '../../core/formats/refusals'
import { resultsOf } from '../../core/formats/side-list'
import { familyOf, fileType } from '../../core/formats/types'
import { readWorkbook } from '../../core/formats/workbooks'
import { pageWith, sheetWith, writtenTree } from '../../core/paper/choices'
import { paperOf } from '../../core/paper/from-document'
import { mostCells, mostPages, sheetsPaper } from '../../core/paper/from-sheets'
import { brokenAt, type PageBreak, type PlaceOnPage, pageBreaks } from '../../core/paper/page-breaks'
import type { Paper, PaperBlock, PaperCell, PaperImage, PaperNotes, PaperRemark } from '../../core/paper/paper'
import { type Remark, sayHead } from '../../core/paper/remarks'
import { type NoteInPdf, withNotes, withoutColumn } from '../../core/paper/remarks-in-pdf'
import { sheetTemplate } from '../../core/paper/sheet-template'
import { type ShownSheet, shownSheet } from '../../core/paper/shown'
import { dataPath, template } from '../../core/paper/template'
import { speaking } from '../../core/words/in-language'
import { localeOf } from '../../core/words/locale'
import { type Sentence, saidBy, say } from '../../core/words/said'
import { openPool, TaskEnded } from '../threads/pool'
import { fontFolders, measureFont } from './measure'

/** The file that a document came from. */
export interface OwnFile {
  bytes: Uint8Array
  type: string
  /** What it is known by: what was read of it is kept for the next time. */
  key?: string
}
export interface ToTypeset extends Omit<OnPaper, 'what'> {
  what:
    | {
        kind: 'document'
        json?: unknown
        /** The file that says how styles look. */
        styles: OwnFile | null
      }
    | Extract<OnPaper['what'], { kind: 'sheets' }>
    /** A file as it is kept; of a workbook all sheets that it shows. */
    | { kind: 'file'; bytes: Uint8Array; type: string }
  /** What the PDF says of when it was made; milliseconds. */
  at?: number
}
interface Typesetted {
  pdf: Uint8Array
  facts: PaperFacts
  /** What of a file is not on its pages. */
  lost: Limit[]
}
/** @returns how many pages a document has, and where in it each begins */
export type FindBreaks = (
  asked: Pick<ToTypeset, 'name' | 'number' | 'day' | 'language'> & {
    what: Extract<ToTypeset['what'], { kind: 'document' }>
  },
) => Promise<{ pages: number; breaks: PageBreak[] } | { fault: Sentence }>
export type Typeset = (asked: ToTypeset) => Promise<Typesetted | { fault: Sentence }>

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

/** All that is set, at the edges of pages too. */
const blocksIn = ({ blocks, runs, head, foot }: Paper): PaperBlock[][] => [
  blocks,
  ...runs.flatMap(({ parts }) => parts.map((part) => part.blocks)),
  ...[head, foot].flatMap((edge) => Object.values(edge)),
]

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

/** Pages as they are set, or null and why not. */
interface Laid {
  pages: ReturnType<NodeCompiler['compile']>['result']
  why: () => string
  notes: PaperNotes
  /** Of the first page; points. */
  width: number
  height: number
  lost?: Limit[]
  /** What is done with the PDF that comes of them. */
  after?: (pdf: Uint8Array) => Promise<Uint8Array>
}
type Laying = Promise<Laid | { fault: Sentence }>

/** Sets a tree. @returns null where it cannot be set */
function setTree(compiler: NodeCompiler, program: string, written: string) {
  compiler.mapShadow(join(folder, dataPath), Buffer.from(written))
  const result = compiler.compile({ mainFileContent: program })
  return { pages: result.result, why: () => JSON.stringify(result.takeDiagnostics()?.shortDiagnostics) }
}

/** @returns null for what is no document */
function documentOf(json: unknown): Node | null {
  try {
    const doc = documentFromJSON(json)
    return doc.type.name === 'doc' ? doc : null
  } catch (error) {
    if (error instanceof RangeError || error instanceof TypeError) return null
    throw error
  }
}

async function setGiven(what: Extract<ToTypeset['what'], { kind: 'document' }>, asked: ToTypeset): Laying {
  const doc = documentOf(what.json)
  if (!doc) return { fault: say('problem.no-document') }
  return setDocument(doc, what.styles, asked)
}

async function setDocument(
  doc: Node,
  file: OwnFile | null,
  { name, number, day, language, choices, corner }: ToTypeset,
): Laying {
  if (doc.content.size > mostLetters) return { fault: say('problem.too-long-to-set', { most: mostLetters }) }
  const page = pageWith(doc.attrs.page as Page, choices)
  const laid = doc.type.create({ ...doc.attrs, page }, doc.content)
  const remarks = choices.remarks === 'none' ? null : { shown: choices.remarks, head: headIn(language) }
  const { paper, images, notes } = paperOf(laid, {
    ...saysOf(doc, file),
    name,
    version: number,
    day,
    language,
    remarks,
    turned: (one) => pageWith(one, choices),
  })
  const asNotes = choices.remarks === 'notes' && paper.remarks.length > 0
  const compiler = await typesetter()
  const draws = (image: PaperImage) =>
    !compiler.compile({ mainFileContent: `#image(${JSON.stringify(image.name)}, alt: "")` }).hasError()
  compiler.resetShadow()
  for (const image of images) compiler.mapShadow(join(folder, image.name), Buffer.from(image.bytes))
  const tree = { ...paper, ...chosen(choices, corner), notes: asNotes }
  const set = () => setTree(compiler, template, writtenTree(tree, choices.colours))
  let result = set()
  if (!result.pages && images.length) {
    const bad = new Set(images.filter((image) => !draws(image)).map((image) => image.name))
    for (const blocks of blocksIn(paper)) notes.undrawn += withoutImages(blocks, bad)
    if (bad.size) result = set()
  }
  const { pages } = result
  const after = paper.column
    ? (pdf: Uint8Array) => withoutColumn(pdf, paper.column)
    : asNotes && pages
      ? (pdf: Uint8Array) => withNotes(pdf, notesOn(compiler, pages, paper.remarks))
      : null
  return { ...result, notes, width: page.width / 20, height: page.height / 20, ...(after && { after }) }
}

/** What was read of the files that were asked about last. */
const read = new Map<string, { looks: readonly StyleLook[]; passages: ReadPassages | null }>()
const mostRead = 6
function readOf(file: OwnFile) {
  const { bytes, type, key } = file
  const before = key === undefined ? undefined : read.get(key)
  const now = before ?? {
    looks: styleLooksOf(bytes, type),
    passages: familyOf(type) === 'docx' ? readPassages(bytes) : null,
  }
  if (key === undefined) return now
  read.delete(key)
  read.set(key, now)
  for (const oldest of read.keys()) if (read.size > mostRead) read.delete(oldest)
  return now
}
/**
 * How the styles of a document's file look, and what that says of stretches of the document that was made of it.
 * @throws DamagedFile
 */
function saysOf(doc: Node, file: OwnFile | null): { looks: readonly StyleLook[]; passages: Passage[] } {
  if (!file) return { looks: [], passages: [] }
  const { looks, passages } = readOf(file)
  return { looks, passages: passages ? passagesIn(passages.passages, passages.doc, doc) : [] }
}
const headIn = (language: string) => {
  const speaker = speaking(language === 'de' ? 'de' : 'en')
  const days = new Intl.DateTimeFormat(localeOf(language), { dateStyle: 'medium', timeZone: 'UTC' })
  return (remark: Remark) => speaker.text(sayHead(remark, (iso) => days.format(new Date(iso))))
}
/** Where the pages have what is said about them. */
function notesOn(compiler: NodeCompiler, pages: NonNullable<Laid['pages']>, remarks: readonly PaperRemark[]) {
  const [places] = compiler.query(pages, { selector: '<remarks>', field: 'value' }) as [[number, number, number][]]
  return places.map(([number, page, y]): NoteInPdf => {
    const { kind, who, when, words, head } = remarks[number - 1]!
    const text = kind === 'comment' ? words : words ? `${head}: ${words}` : head
    return { page, y, who, when: when === null ? null : new Date(when), words: text }
  })
}

async function setSheets(
  sheets: readonly ShownSheet[],
  { name, day, time, language, choices, corner }: ToTypeset,
  about: About | null,
): Laying {
  const shown = sheets.map((sheet) => ({ ...sheet, paper: sheetWith(sheet.paper, choices) }))
  const found = sheetsPaper(shown, measureFont, { name, day, time, language, about })
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
    width: paper.pages[0]!.width,
    height: paper.pages[0]!.height,
  }
}

async function setShown(what: Extract<ToTypeset['what'], { kind: 'sheets' }>, asked: ToTypeset): Laying {
  const sheets = ShownSheets.safeParse(what.sheets)
  return sheets.success
    ? setSheets(sheets.data as ShownSheet[], asked, tidyAbout(what.about))
    : { fault: say('problem.no-sheets') }
}

/** Where the pages of a document begin, as its own layout has them. */
export const breaksHere: FindBreaks = async (asked) => {
  const { what, name, number, day, language } = asked
  const doc = documentOf(what.json)
  if (!doc) return { fault: say('problem.no-document') }
  if (doc.content.size > mostLetters) return { fault: say('problem.too-long-to-set', { most: mostLetters }) }
  const compiler = await typesetter()
  compiler.resetShadow()
  let says: ReturnType<typeof saysOf>
  try {
    says = saysOf(doc, what.styles)
  } catch (error) {
    if (error instanceof DamagedFile) return { fault: saidBy(error) }
    throw error
  }
  const lay = (words: ReadonlySet<number>) => {
    const { paper, images } = paperOf(doc, { ...says, name, version: number, day, language, places: words })
    const undrawn = new Set(images.map((image) => image.name))
    for (const blocks of blocksIn(paper)) withoutImages(blocks, undrawn)
    const tree = { ...paper, places: true, corner: '', properties: false }
    const { pages, why } = setTree(compiler, template, writtenTree(tree, true))
    if (!pages) throw new Error(`Pages could not be set: ${why()}`)
    const [places] = compiler.query(pages, { selector: '<places>', field: 'value' }) as [PlaceOnPage[]]
    return { pages: pages.numOfPages, places }
  }
  const first = lay(new Set())
  const broken = brokenAt(first.places)
  const { pages, places } = broken.size ? lay(broken) : first
  compiler.evictCache(pages > many ? 0 : keptFor)
  return { pages, breaks: pageBreaks(places) }
}

/** A file as it is kept. @throws DamagedFile */
async function setFile({ bytes, type }: Extract<ToTypeset['what'], { kind: 'file' }>, asked: ToTypeset): Laying {
  if (fileType(type).kind === 'document') {
    const { doc, limits } = readDocument(bytes, type)
    return {
      ...(await setDocument(doc, { bytes, type }, asked)),
      lost: documentNotOnPaper(doc, limits, asked.choices.remarks !== 'none'),
    }
  }
  const read = readWorkbook(bytes, type)
  const { workbook, looks, usual, hiddenSheets, limits } = read
  const hidden = new Set(hiddenSheets)
  const places = [...workbook.sheets.keys()].filter((at) => !hidden.has(at))
  const results = resultsOf(read, places)
  const sheets = places.map((at) =>
    shownSheet(
      workbook.sheets[at]!,
      looks[at] ?? noLooks,
      (row, column) => results[at]?.get(keyOf(row, column)),
      usual,
    ),
  )
  return {
    ...(await setSheets(sheets, asked, workbook.about ?? null)),
    lost: sheetsNotOnPaper(workbook, looks, limits, hidden),
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
    const set =
      what.kind === 'document'
        ? await setGiven(what, asked)
        : what.kind === 'file'
          ? await setFile(what, asked)
          : await setShown(what, asked)
    if ('fault' in set) return set
    if (!set.pages) throw new Error(`Pages could not be set: ${set.why()}`)
    const compiler = await typesetter()
    const pdfStandard = standards[standard]
    const made = compiler.pdf(set.pages, {
      ...(pdfStandard && { pdfStandard }),
      creationTimestamp: Math.floor((asked.at ?? Date.now()) / 1000),
    })
    const pdf = set.after ? await set.after(made) : made
    const pages = set.pages.numOfPages
    compiler.evictCache(pages > many ? 0 : keptFor)
    return {
      pdf,
      facts: { pages, landscape: set.width > set.height, size: sizeOf(set.width, set.height), ...set.notes },
      lost: set.lost ?? [],
    }
  } catch (error) {
    if (error instanceof DamagedFile) return { fault: saidBy(error) }
    throw error
  }
}

export type TypesetTask = { pages: Parameters<Typeset>[0] } | { breaks: Parameters<FindBreaks>[0] }

/** @param script the built worker @param patience for one document; milliseconds */
export function typesetInProcesses(
  script: URL,
  patience = 60_000,
): { typeset: Typeset; findBreaks: FindBreaks; close(): Promise<void> } {
  const pool = openPool(script, { processes: true, patience })
  const run = async <T>(task: TypesetTask): Promise<T | { fault: Sentence }> => {
    try {
      return await pool.run<T>(task)
    } catch (error) {
      if (error instanceof TaskEnded) return { fault: say('problem.pages-take-too-long') }
      throw error
    }
  }
  return {
    typeset: (asked) => run({ pages: asked }),
    findBreaks: (asked) => run({ breaks: asked }),
    close: () => pool.close(),
  }
}
