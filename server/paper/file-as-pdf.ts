// A file as it is kept, as a PDF: for whoever gets it so, and for the one that is kept in step beside it.
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import { noChoices, type PaperChoices, type PaperStandard } from '../../core/contract'
import { DamagedFile, type Limit } from '../../core/formats/refusals'
import { sayCorner } from '../../core/paper/choices'
import { type Language, speaking } from '../../core/words/in-language'
import { localeOf } from '../../core/words/locale'
import type { Sentence } from '../../core/words/said'
import type { Convert, OfVersion } from '../mail/convert'
import { select } from '../sql/rows'
import type { Typeset } from './typeset'

/** @returns the same bytes for the same file: what they say of their time is when it was saved */
export async function fileAsPdf(
  typeset: Typeset,
  { bytes, type }: { bytes: Uint8Array; type: string },
  { name, number, savedAt, language }: OfVersion,
  standard: PaperStandard = 'plain',
  choices: PaperChoices = noChoices,
): Promise<{ pdf: Uint8Array; lost: Limit[] } | { fault: Sentence }> {
  const set = await typeset({
    what: { kind: 'file', bytes, type },
    name,
    number,
    day: new Intl.DateTimeFormat(localeOf(language), { dateStyle: 'long' }).format(savedAt),
    time: new Intl.DateTimeFormat(localeOf(language), { timeStyle: 'short' }).format(savedAt),
    language,
    standard,
    choices,
    corner: speaking(language).text(sayCorner(name, number)),
    at: savedAt.getTime(),
  })
  return 'fault' in set ? set : { pdf: set.pdf, lost: set.lost }
}

/** Files as another type, PDF among them. */
export const convertWithPages =
  (convert: Convert, typeset: Typeset): Convert =>
  async (asked) => {
    if (asked.to !== 'pdf') return convert(asked)
    const made = await fileAsPdf(typeset, { bytes: asked.bytes, type: asked.from }, asked.of)
    if ('fault' in made) throw new DamagedFile(made.fault)
    return { bytes: made.pdf, lost: made.lost }
  }

/** The language that somebody chose for the screens; English where they leave that to their browser. */
export async function languageOf(manager: EntityManager, personId: string): Promise<Language> {
  const [found] = await select(
    manager,
    z.object({ language: z.string().nullable() }),
    `select settings->>'language' as language from person_settings where person_id = $1`,
    [personId],
  )
  return found?.language === 'de' ? 'de' : 'en'
}
