import type { Code } from '../words/en'
import { type Said, say } from '../words/said'

/** A file's type as people know it, and what Jaula can do with it. */
export interface FileType {
  type: string
  kind: 'document' | 'spreadsheet' | 'other'
  /** What people know it by. */
  label: Said
  mediaType: string
  /** Whether an editor of Jaula's reads and writes it. */
  editable: boolean
}

/** Handed out for keeping and not for showing. */
const unnamed = 'application/octet-stream'
const template = 'application/vnd.openxmlformats-officedocument'
/** Types that are packages of the same parts as another one: with macros, templates, or both. */
const likeOthers: [
  type: string,
  like: 'docx' | 'xlsx' | 'odt' | 'ods' | 'doc' | 'xls',
  label: Code,
  mediaType: string,
][] = [
  ['docm', 'docx', 'formats.type-docm', unnamed],
  ['dotx', 'docx', 'formats.type-dotx', `${template}.wordprocessingml.template`],
  ['dotm', 'docx', 'formats.type-dotm', unnamed],
  ['xlsm', 'xlsx', 'formats.type-xlsm', unnamed],
  ['xltx', 'xlsx', 'formats.type-xltx', `${template}.spreadsheetml.template`],
  ['xltm', 'xlsx', 'formats.type-xltm', unnamed],
  ['ott', 'odt', 'formats.type-ott', 'application/vnd.oasis.opendocument.text-template'],
  ['ots', 'ods', 'formats.type-ots', 'application/vnd.oasis.opendocument.spreadsheet-template'],
  ['dot', 'doc', 'formats.type-dot', unnamed],
  ['xlt', 'xls', 'formats.type-xlt', unnamed],
]
const familyByType = new Map<string, string>([
  ...likeOthers.map(([type, like]) => [type, like] as const),
  ['tsv', 'csv'],
  ['htm', 'html'],
  ['markdown', 'md'],
])
/** A type without what was said of how its bytes are read (core/formats/csv/said.ts). */
export const plainType = (type: string): string => type.split('?', 1)[0]!
/** The type whose reader and writer a type shares. */
export const familyOf = (type: string): string => familyByType.get(plainType(type)) ?? plainType(type)

/** Whether a type is a list of separated values. */
export const isCsv = (type: string): boolean => familyOf(type) === 'csv'
/** Whether a type is plain text, which has no looks. */
export const isText = (type: string): boolean => familyOf(type) === 'txt'
/** Whether files of a type have a place for what they say of themselves: a title, an author (core/formats/about). */
export const saysAbout = (type: string): boolean =>
  ['docx', 'xlsx', 'odt', 'ods', 'rtf', 'doc', 'xls'].includes(familyOf(type))
/** Whether a type is a web page. */
export const isPage = (type: string): boolean => familyOf(type) === 'html'
/** The types that new work of a kind can be written as, the one that holds all of it first. */
export const writable = {
  document: ['docx', 'odt', 'rtf', 'html', 'md', 'txt'],
  spreadsheet: ['xlsx', 'ods', 'xls', 'csv', 'tsv'],
} as const
/**
 * What work of a type can be written as beside what it is. Packages of one family are patched where they are: a document
 * with macros is none without them by another name.
 */
export const writableBeside = (own: string, kind: 'document' | 'spreadsheet'): string[] =>
  writable[kind].filter((type) => type !== own && (isCsv(type) || familyOf(type) !== familyOf(own)))
/** Whether a type is read by an editor and written by none: work in such a file goes on in another type. */
export const isReadOnly = (type: string): boolean => familyOf(type) === 'doc'
/** The type that work in a file is written as. @param own that of the file */
export const typeWritten = (own: string, kind: 'document' | 'spreadsheet'): string =>
  isReadOnly(own) ? defaultType[kind] : own
/** Whether a file of one type may go on as another one: its work is of the same kind, and can be written so. */
export const mayGoOnAs = (own: string, type: string): boolean => {
  const { kind } = fileType(own)
  if (kind === 'other' || fileType(type).kind !== kind) return false
  return type === own || (writable[kind] as readonly string[]).includes(type)
}
/** Whether a type is among those that a share takes. @param only types, each for all of its family */
export const takesType = (only: readonly string[] | undefined, type: string): boolean =>
  !only || only.includes(type) || only.includes(familyOf(type))
/** Whether texts of a type say how their pages are. */
export const hasPages = (type: string): boolean => /^(?:docx|odt|rtf)$/.test(familyOf(type))
/** Whether texts of a type have a place for footnotes and endnotes. */
export const hasNotes = hasPages
/** The same for comments. */
export const hasComments = (type: string): boolean => /^(?:docx|odt)$/.test(familyOf(type))
/** Whether a type cannot hold all that can be done in its editor. */
export const isPoor = (type: string): boolean => isCsv(type) || isText(type)
/** Whether work can be begun from it: it is a package that holds all that work can have. */
export const isPackage = (type: string): boolean => /^(?:docx|xlsx)$/.test(familyOf(type))

const table: FileType[] = [
  {
    type: 'docx',
    kind: 'document',
    label: say('formats.type-docx'),
    mediaType: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
    editable: true,
  },
  {
    type: 'xlsx',
    kind: 'spreadsheet',
    label: say('formats.type-xlsx'),
    mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    editable: true,
  },
  {
    type: 'odt',
    kind: 'document',
    label: say('formats.type-odt'),
    mediaType: 'application/vnd.oasis.opendocument.text',
    editable: true,
  },
  {
    type: 'ods',
    kind: 'spreadsheet',
    label: say('formats.type-ods'),
    mediaType: 'application/vnd.oasis.opendocument.spreadsheet',
    editable: true,
  },
  ...likeOthers.map(
    ([type, like, label, mediaType]): FileType => ({
      type,
      kind: like === 'docx' || like === 'odt' || like === 'doc' ? 'document' : 'spreadsheet',
      label: say(label),
      mediaType,
      editable: true,
    }),
  ),
  {
    type: 'xls',
    kind: 'spreadsheet',
    label: say('formats.type-xls'),
    mediaType: unnamed,
    editable: true,
  },
  {
    type: 'rtf',
    kind: 'document',
    label: say('formats.type-rtf'),
    mediaType: 'application/rtf',
    editable: true,
  },
  {
    type: 'doc',
    kind: 'document',
    label: say('formats.type-doc'),
    mediaType: unnamed,
    editable: true,
  },
  { type: 'csv', kind: 'spreadsheet', label: say('formats.type-csv'), mediaType: 'text/csv', editable: true },
  {
    type: 'tsv',
    kind: 'spreadsheet',
    label: say('formats.type-tsv'),
    mediaType: 'text/tab-separated-values',
    editable: true,
  },
  // A page runs in whoever shows it: it is handed out for keeping.
  ...['html', 'htm'].map(
    (type): FileType => ({
      type,
      kind: 'document',
      label: say('formats.type-html'),
      mediaType: unnamed,
      editable: true,
    }),
  ),
  ...['md', 'markdown'].map(
    (type): FileType => ({
      type,
      kind: 'document',
      label: say('formats.type-md'),
      mediaType: 'text/markdown',
      editable: true,
    }),
  ),
  { type: 'txt', kind: 'document', label: say('formats.type-txt'), mediaType: 'text/plain', editable: true },
  { type: 'pdf', kind: 'other', label: say('formats.type-pdf'), mediaType: 'application/pdf', editable: false },
  {
    type: 'png',
    kind: 'other',
    label: say('formats.type-image', { type: 'png' }),
    mediaType: 'image/png',
    editable: false,
  },
  {
    type: 'jpg',
    kind: 'other',
    label: say('formats.type-image', { type: 'jpg' }),
    mediaType: 'image/jpeg',
    editable: false,
  },
]
/** The types of a kind that Jaula knows. */
export const typesOf = (kind: FileType['kind']): string[] =>
  table.filter((one) => one.kind === kind).map(({ type }) => type)

const byType = new Map(table.map((entry) => [entry.type, entry]))

/** The last extension of a name, in small letters and without its dot; empty when there is none. */
export function typeOfName(name: string): string {
  const match = /[^.]\.([a-z0-9]{1,12})$/i.exec(name)
  return match ? match[1]!.toLowerCase() : ''
}

/** A name with the ending of a type; the same where it has that already, in whatever letters. */
export function nameAs(name: string, type: string): string {
  const own = typeOfName(name)
  if (own === type) return name
  const stem = own ? name.slice(0, -own.length - 1) : name
  return type ? `${stem}.${type}` : stem
}

/** Whether people know a type by its ending, and Jaula too. */
export const isKnownType = (type: string): boolean => byType.has(type)

/** What is known of a type; a type Jaula does not know is kept and offered for download. */
export function fileType(type: string): FileType {
  return (
    byType.get(plainType(type)) ?? {
      type,
      kind: 'other',
      label: say('formats.type-other', { type: type || 'none' }),
      mediaType: 'application/octet-stream',
      editable: false,
    }
  )
}

/** The type a new draft of this kind is saved in. */
export const defaultType = { document: 'docx', spreadsheet: 'xlsx' } as const
/** The type that work is read as: its file's, where that has an editor. @param name of its file; null for none */
export function typeOfWork(name: string | null, kind: 'document' | 'spreadsheet'): string {
  const type = name ? typeOfName(name) : ''
  return fileType(type).editable && fileType(type).kind === kind ? type : defaultType[kind]
}
