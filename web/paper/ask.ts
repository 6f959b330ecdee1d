// Asks for the work on pages.
import { type OnPaper, PaperFacts } from '../../core/contract'
import { call, packed } from '../api/call'

export interface Pages {
  pdf: Uint8Array
  facts: PaperFacts
  /** The first one lies. */
  landscape: boolean
}

/** @throws Refused */
export async function askForPages(body: OnPaper): Promise<Pages> {
  let facts: PaperFacts = { pages: 0, substituted: [], undrawn: 0, landscape: false }
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
