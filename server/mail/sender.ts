// Who sends a message: in which language they write, where their answers go, and where Jaula is that they send from.
import type { Request } from 'express'
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import type { Language } from '../../core/words/in-language'
import { selectOne } from '../sql/rows'
import type { MailParts } from './outbox'

export interface Sender {
  id: string
  by: string
  answered: boolean
  language: Language
  /** Of Jaula, without a slash behind it. */
  origin: string
}

/** The language that a browser asks for first (RFC 9110, section 12.5.4), of those that there are. */
function languageAsked(request: Request): Language {
  return request.acceptsLanguages('en', 'de') === 'de' ? 'de' : 'en'
}

export async function senderOf(
  manager: EntityManager,
  mail: MailParts,
  personId: string,
  request: Request,
): Promise<Sender> {
  const { name, answered, language } = await selectOne(
    manager,
    z.object({ name: z.string(), answered: z.boolean(), language: z.string().nullable() }),
    `select p.name, p.mail is not null as answered, s.settings->>'language' as language
     from person p left join person_settings s on s.person_id = p.id where p.id = $1`,
    [personId],
  )
  return {
    id: personId,
    by: name,
    answered,
    language: language === 'de' || language === 'en' ? language : languageAsked(request),
    origin: mail.address ?? `${request.protocol}://${request.get('host')}`,
  }
}
