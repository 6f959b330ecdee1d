// Asks for work on pages.
import { type OnPaper, PaperFacts, type PaperLikes } from '../../core/contract'
import { sayCorner } from '../../core/paper/choices'
import { localeOf } from '../../core/words/locale'
import { call, packed } from '../api/call'
import { told } from '../words/all'
import { language } from '../words/language'
import type { PutOnPaper } from '../work/content'

export interface Pages {
  pdf: Uint8Array
  facts: PaperFacts
  /** The first one lies. */
  landscape: boolean
}

/**
 * @param head the version that says how styles of a document look; null where there is none
 * @param number of the version that it is of @throws Refused
 */
export async function askForPages(
  put: PutOnPaper,
  head: string | null,
  name: string,
  number: number | null,
  { paper, standard }: Pick<PaperLikes, 'paper' | 'standard'>,
): Promise<Pages> {
  const now = new Date()
  const body: OnPaper = {
    what:
      put.kind === 'document'
        ? { kind: 'document', json: put.json, versionId: head }
        : { kind: 'sheets', sheets: put.sheets, about: put.about },
    name,
    number,
    day: new Intl.DateTimeFormat(localeOf(language), { dateStyle: 'long' }).format(now),
    time: new Intl.DateTimeFormat(localeOf(language), { timeStyle: 'short' }).format(now),
    language,
    standard,
    choices: paper,
    corner: told(sayCorner(name, number)),
  }
  let facts: PaperFacts = { pages: 0, substituted: [], undrawn: 0, landscape: false, size: null }
  const pdf = await call(
    'onPaper',
    { body },
    {
      packed: await packed(body),
      timeout: 120_000,
      onHeaders: (headers) => {
        facts = PaperFacts.parse(JSON.parse(decodeURIComponent(headers.get('jaula-paper') ?? '')))
      },
    },
  )
  return { pdf, facts, landscape: facts.landscape }
}
