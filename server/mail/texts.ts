// What messages say, in the language of who sends them.
import type { Role } from '../../core/contract'
import { type Language, speaking } from '../../core/words/in-language'
import { type Said, say } from '../../core/words/said'

export interface Text {
  subject: string
  text: string
}
interface From {
  language: Language
  /** Who sends it. */
  by: string
  /** Whether answers reach them. */
  answered: boolean
}

const inLines = ({ language, by, answered }: From, subject: Said, lines: (Said | string | null)[]): Text => {
  const speaker = speaking(language)
  return {
    subject: speaker.text(subject).replace(/\s+/g, ' '),
    text: `${[...lines, '', '-- ', say('mail.answers', { answered, by })]
      .filter((line) => line !== null)
      .map((line) => speaker.text(line))
      .join('\r\n')}\r\n`,
  }
}
const dayOf = (until: string | null) => (until === null ? null : Date.parse(until))
/** Somebody's own words, and a line between them and what follows. */
const own = (words: string): string[] => (words ? [...words.split(/\r?\n/), ''] : [])

export function fileText(
  from: From,
  { words, name, versions }: { words: string; name: string; versions: { name: string; number: number; at: Date }[] },
): Text {
  return inLines(from, say('mail.subject-file', { by: from.by, name }), [
    ...own(words),
    say('mail.with-this'),
    ...versions.map((one) => say('mail.version-line', { name: one.name, number: one.number, at: one.at.getTime() })),
  ])
}

export function linkText(
  from: From,
  link: {
    words: string
    name: string
    address: string
    role: 'view' | 'edit'
    until: string | null
    uses: number | null
    password: boolean
  },
): Text {
  const { words, name, address, role, until, uses, password } = link
  return inLines(from, say('mail.subject-link', { by: from.by, name }), [
    ...own(words),
    say('mail.link-says', { role, name }),
    '',
    address,
    '',
    until === null ? null : say('mail.link-until', { until: dayOf(until) }),
    uses === null ? null : say('mail.link-uses', { uses }),
    password ? say('mail.link-password', { by: from.by }) : null,
  ])
}

export function invitationText(
  from: From,
  given: { words: string; name: string; address: string; role: Role; until: string | null },
): Text {
  const { words, name, address, role, until } = given
  return inLines(from, say('mail.subject-invitation', { by: from.by, name }), [
    ...own(words),
    say('mail.invitation-says', { role, name }),
    until === null ? null : say('mail.invitation-until', { until: dayOf(until) }),
    say('mail.invitation-where'),
    '',
    address,
  ])
}

export function codeText(from: From, given: { handle: string; code: string; until: string; address: string }): Text {
  const { handle, code, until, address } = given
  return inLines(from, say('mail.subject-code'), [
    say('mail.code-says', { by: from.by }),
    '',
    say('mail.code-where', { address }),
    say('mail.code-handle', { handle }),
    say('mail.code-is', { code }),
    '',
    say('mail.code-until', { until: dayOf(until), by: from.by }),
  ])
}
