// What files of any type say of themselves (core/content/about.ts), beside their content: read with it, and written where
// only that may change. A new type is one entry here.
import { type About, type AboutField, aboutFields, fieldsBetween } from '../../content/about'
import { DamagedFile, type Limit, Limits, NotPatched, type Written } from '../refusals'
import { familyOf } from '../types'
import { aboutOfOdf, aboutOfOpc, withAboutInOdf, withAboutInOpc } from './packages'
import { aboutOfCompound, withAboutInCompound } from './property-set'
import { aboutOfRtf, withAboutInRtf } from './rich-text'

interface AboutFormat {
  /** @throws DamagedFile */
  read(bytes: Uint8Array): About | null
  /** @throws NotPatched, DamagedFile */
  write(bytes: Uint8Array, about: About | null, changed: readonly AboutField[]): Uint8Array
}
const opc: AboutFormat = { read: aboutOfOpc, write: withAboutInOpc }
const odf: AboutFormat = { read: aboutOfOdf, write: withAboutInOdf }
const compound: AboutFormat = { read: aboutOfCompound, write: withAboutInCompound }
/** By family; those that `saysAbout` (types.ts) names. */
const formats: Readonly<Record<string, AboutFormat>> = {
  docx: opc,
  xlsx: opc,
  odt: odf,
  ods: odf,
  rtf: { read: aboutOfRtf, write: withAboutInRtf },
  doc: compound,
  xls: compound,
}

/** What a file says of itself; null where it says nothing, cannot, or cannot be read. */
export function aboutOf(bytes: Uint8Array, type: string): About | null {
  try {
    return formats[familyOf(type)]?.read(bytes) ?? null
  } catch {
    // Whether it can be opened is said by who opens it.
    return null
  }
}

/** A file as it is written, saying of itself what it is to say; what it said there already keeps its bytes. */
export function withAbout({ bytes, lost }: Written, type: string, about: About | null): Written {
  const format = formats[familyOf(type)]
  const changed = fieldsBetween(aboutOf(bytes, type), about)
  if (!changed.length) return { bytes, lost }
  if (!format) return { bytes, lost: [...lost, ...lostOf(about)] }
  try {
    return { bytes: format.write(bytes, about, changed), lost }
  } catch (error) {
    if (!(error instanceof NotPatched) && !(error instanceof DamagedFile)) throw error
    return { bytes, lost: [...lost, ...lostOf(about)] }
  }
}

function lostOf(about: About | null): Limit[] {
  const limits = new Limits()
  for (const field of aboutFields)
    if (about?.[field]) limits.add('what a file says of itself', about[field].slice(0, 40))
  return limits.list()
}
