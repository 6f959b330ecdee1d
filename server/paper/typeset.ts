// Documents on pages: set by a typesetter in processes of its own, which are ended where one takes more than its share of
// time. What people wrote goes to it as data (core/paper), and it can read nothing but that.
import { existsSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { NodeCompiler } from '@myriaddreamin/typst-ts-node-compiler'
import { documentFromJSON } from '../../core/content/document'
import type { PaperFacts, PaperStandard } from '../../core/contract'
import { styleLooksOf } from '../../core/formats/documents'
import { DamagedFile } from '../../core/formats/refusals'
import { paperOf } from '../../core/paper/from-document'
import type { PaperBlock, PaperCell, PaperImage } from '../../core/paper/paper'
import { dataPath, template } from '../../core/paper/template'
import { type Sentence, saidBy, say } from '../../core/words/said'
import { openPool, TaskEnded } from '../threads/pool'

export interface ToTypeset {
  json: unknown
  /** The file that says how styles look. */
  styles: { bytes: Uint8Array; type: string } | null
  name: string
  number: number | null
  day: string
  language: string
  standard: PaperStandard
}
export type Typeset = (asked: ToTypeset) => Promise<{ pdf: Uint8Array; facts: PaperFacts } | { fault: Sentence }>

/** Open fonts that stand for those that files name (core/paper/fonts.ts), where Debian puts them. */
const fonts = ['liberation', 'liberation2', 'crosextra'].map((name) => `/usr/share/fonts/truetype/${name}`)
/** As the typesetter calls them. */
const standards: Record<PaperStandard, string | undefined> = { plain: undefined, archive: 'a-2a', accessible: 'ua-1' }
/** What it keeps of earlier pages is let go of after so many others. */
const keptFor = 10

/** No folder that is there: what it reads is what it is given. */
const folder = join(tmpdir(), 'jaula-reads-nothing')
let kept: NodeCompiler | undefined
/** Fetched when the first pages are set: a machine that it was not built for does all else. */
async function typesetter(): Promise<NodeCompiler> {
  if (kept) return kept
  const { NodeCompiler } = await import('@myriaddreamin/typst-ts-node-compiler')
  kept = NodeCompiler.create({
    workspace: folder,
    fontArgs: [{ fontPaths: fonts.filter((path) => existsSync(path)) }],
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

/** In this process. */
export const typesetHere: Typeset = async ({ json, styles, name, number, day, language, standard }) => {
  let doc: ReturnType<typeof documentFromJSON>
  try {
    doc = documentFromJSON(json)
  } catch (error) {
    if (error instanceof RangeError || error instanceof TypeError) return { fault: say('problem.no-document') }
    throw error
  }
  if (doc.type.name !== 'doc') return { fault: say('problem.no-document') }
  try {
    const looks = styles ? styleLooksOf(styles.bytes, styles.type) : []
    const { paper, images, notes } = paperOf(doc, { looks, name, version: number, day, language })
    const compiler = await typesetter()
    const give = (path: string, bytes: Uint8Array) => compiler.mapShadow(join(folder, path), Buffer.from(bytes))
    const draws = (image: PaperImage) =>
      !compiler.compile({ mainFileContent: `#image(${JSON.stringify(image.name)}, alt: "")` }).hasError()
    compiler.resetShadow()
    for (const image of images) give(image.name, image.bytes)
    const set = () => {
      give(dataPath, Buffer.from(JSON.stringify(paper)))
      return compiler.compile({ mainFileContent: template })
    }
    let result = set()
    if (!result.result && images.length) {
      const bad = new Set(images.filter((image) => !draws(image)).map((image) => image.name))
      for (const edge of [paper.head, paper.foot])
        for (const blocks of Object.values(edge)) notes.undrawn += withoutImages(blocks, bad)
      notes.undrawn += withoutImages(paper.blocks, bad)
      if (bad.size) result = set()
    }
    const pages = result.result
    if (!pages) throw new Error(`Pages could not be set: ${JSON.stringify(result.takeDiagnostics()?.shortDiagnostics)}`)
    const pdfStandard = standards[standard]
    const pdf = compiler.pdf(pages, {
      ...(pdfStandard && { pdfStandard }),
      creationTimestamp: Math.floor(Date.now() / 1000),
    })
    compiler.evictCache(keptFor)
    return { pdf, facts: { pages: pages.numOfPages, ...notes } }
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
