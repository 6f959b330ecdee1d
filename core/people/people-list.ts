// People who are to be added, out of a list as an office has it: a line a person, with the columns that its first line
// names, or a name and then what they sign in with. Whatever is wrong is told by its line, and then nobody is added.
import type { NewAccount } from '../contract/accounts'
import { mostPeopleAtOnce } from '../contract/accounts'
import { Handle, MailAddress } from '../contract/people'
import { lookAt } from '../formats/csv/dialect'
import { recordsOf } from '../formats/csv/records'
import { decoded } from '../formats/text/encoding'
import { type Said, say } from '../words/said'

type Column = 'name' | 'handle' | 'administrator' | 'groups' | 'mail'
/** What a column may be called, in small letters without signs; in English and German. */
const called: Record<Column, readonly string[]> = {
  name: ['name', 'full name', 'person'],
  handle: [
    'signin name',
    'sign in name',
    'handle',
    'login',
    'user',
    'user name',
    'username',
    'anmeldename',
    'benutzer',
    'kennung',
  ],
  administrator: ['administrator', 'admin', 'verwalter', 'verwaltung'],
  groups: ['groups', 'group', 'gruppen', 'gruppe'],
  mail: ['mail', 'email', 'mail address', 'email address', 'emailadresse', 'mailadresse'],
}
const yes = ['yes', 'y', 'true', '1', 'x', 'ja', 'j', 'wahr']
const no = ['', 'no', 'n', 'false', '0', '-', 'nein', 'falsch']

export interface ListedPeople {
  people: NewAccount[]
  /** Of each of them, the line that they are in, from 1. */
  lines: number[]
  /** What is wrong, by the line, from 1; empty where nobody is kept out. */
  faults: { line: number; why: Said }[]
}

/** Letters that Unicode does not take apart. */
const apart: Record<string, string> = { ß: 'ss', æ: 'ae', œ: 'oe', ø: 'o', đ: 'd', ð: 'd', ł: 'l', þ: 'th', ı: 'i' }

/**
 * What somebody could sign in with, by their name: the first of it, and where that is taken with the last.
 * @param taken whether somebody has it already
 */
export function handleFor(name: string, taken: (handle: string) => boolean): string {
  const words = name
    .toLowerCase()
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replace(/[ßæœøđðłþı]/g, (letter) => apart[letter]!)
    .split(/[^a-z0-9]+/)
    .filter(Boolean)
  const [first = '', last = ''] = [words[0], words.length > 1 ? words.at(-1) : '']
  const wished = [first, last && `${first}.${last}`].map((one) => one.slice(0, 36)).filter((one) => one.length >= 2)
  if (!wished.length) wished.push('person')
  const base = wished.at(-1)!
  for (const one of wished) if (!taken(one)) return one
  for (let number = 2; ; number++) if (!taken(`${base}${number}`)) return `${base}${number}`
}

/**
 * Reads a list of people (RFC 4180, or with another separator).
 * @param bytes the list, in any encoding that a list may have
 * @param taken whether somebody signs in with it already
 */
export function peopleOfList(bytes: Uint8Array, taken: (handle: string) => boolean): ListedPeople {
  const { encoding, separator } = lookAt(bytes, 'csv').dialect
  const lines = recordsOf(decoded(bytes, encoding), separator)
    .map(({ fields }, at) => ({ line: at + 1, fields: fields.map(({ text: field }) => field.normalize('NFC').trim()) }))
    .filter(({ fields }) => fields.some(Boolean))
  const plain = (field: string) => field.toLowerCase().replace(/[^\p{L}\p{N} ]/gu, '')
  const head = (lines[0]?.fields ?? []).map((field) =>
    (Object.keys(called) as Column[]).find((column) => called[column].includes(plain(field))),
  )
  const headed = head.includes('name')
  const columns: (Column | undefined)[] = headed ? head : ['name', 'handle', 'administrator', 'groups', 'mail']
  const people: NewAccount[] = []
  const faults: ListedPeople['faults'] = []
  const lineOf = new Map<string, number>()
  // What is said is nobody else's to be given.
  const said = new Set(lines.map(({ fields }) => fields[columns.indexOf('handle')]?.toLowerCase()))
  const body = headed ? lines.slice(1) : lines
  const at: number[] = []
  for (const { line, fields } of body) {
    const of = (column: Column) => fields[columns.indexOf(column)] ?? ''
    const wrong = (why: Said) => faults.push({ line, why })
    const name = of('name')
    if (!name) wrong(say('people.line-no-name'))
    else if (name.length > 100) wrong(say('people.line-long-name'))
    const chosen = of('handle').toLowerCase()
    const handle = chosen || handleFor(name, (one) => taken(one) || lineOf.has(one) || said.has(one))
    if (!Handle.safeParse(handle).success) wrong(say('people.line-handle', { handle }))
    else if (chosen && taken(handle)) wrong(say('people.line-taken', { handle }))
    else if (lineOf.has(handle)) wrong(say('people.line-twice', { handle, other: lineOf.get(handle)! }))
    lineOf.set(handle, lineOf.get(handle) ?? line)
    const administrator = of('administrator').toLowerCase()
    if (!yes.includes(administrator) && !no.includes(administrator))
      wrong(say('people.line-yes-or-no', { text: of('administrator') }))
    const groups = [
      ...new Set(
        of('groups')
          .split(/\s*[;|/]\s*|\s*,\s*/)
          .filter(Boolean),
      ),
    ]
    const mail = of('mail') || null
    if (mail !== null && !MailAddress.safeParse(mail).success) wrong(say('people.line-mail', { mail }))
    at.push(line)
    people.push({ name, handle, administrator: yes.includes(administrator), groups, mail })
  }
  if (people.length === 0 && faults.length === 0) faults.push({ line: 1, why: say('people.line-nobody') })
  if (people.length > mostPeopleAtOnce)
    faults.push({ line: body[mostPeopleAtOnce]!.line, why: say('people.line-too-many', { most: mostPeopleAtOnce }) })
  return { people, lines: at, faults }
}
