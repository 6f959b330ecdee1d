import type { FolderPiece, PartValues } from '../contract/naming'
import { type FileKind, labelText, type ReadyConvention, type ReadyPart } from './convention'
import { valueInForm } from './dates'

export interface Composed {
  /** The name without its extension. */
  stem: string
  /** Values as the parts hold them; parsing the stem gives exactly these. */
  values: PartValues
  /** Parts that need a value and have none. */
  missing: ReadyPart[]
  /** Parts whose given value cannot be kept. */
  refused: ReadyPart[]
}

/** Brings values into the form that each part can hold; what it cannot hold is left out. */
export function fitValues(convention: ReadyConvention, values: PartValues): PartValues {
  const fitted: PartValues = {}
  for (const ready of convention.parts) {
    const given = values[ready.part.id]
    const value = given && ready.part.kind !== 'text' ? ready.fit(given) : null
    if (value !== null) fitted[ready.part.id] = value
  }
  return fitted
}

/** A name from values. */
export function compose(convention: ReadyConvention, given: PartValues): Composed {
  const values = fitValues(convention, given)
  const missing: ReadyPart[] = []
  const refused: ReadyPart[] = []
  let stem = ''
  for (const ready of convention.parts) {
    const { part } = ready
    const value = part.kind === 'text' ? part.text : values[part.id]
    if (value === undefined) {
      if (given[part.id]) refused.push(ready)
      else if (!part.optional) missing.push(ready)
      continue
    }
    stem += (stem ? part.separator : '') + ready.write(value)
  }
  return { stem, values, missing, refused }
}

/**
 * The folders that the filing rule sends a file to, below the place where the convention is attached. A level of an
 * optional part that is not there is left out.
 * @returns null where the rule cannot say: a part that it needs is missing, or has a value that it does not know
 */
export function placeOf(convention: ReadyConvention, values: PartValues): string[] | null {
  const folders: string[] = []
  for (const level of convention.rules.folders) {
    const pieces = level.map((piece) => pieceText(convention, piece, values))
    if (pieces.every((text) => text !== null)) folders.push(pieces.join('').normalize('NFC'))
    else if (level.some((piece) => needs(convention, piece, values))) return null
  }
  return folders
}

/** The parts without which the filing rule cannot say where a file goes, in the order of its folders. */
export const neededByPlace = (convention: ReadyConvention, values: PartValues): ReadyPart[] => [
  ...new Set(
    convention.rules.folders
      .flat()
      .flatMap((piece) =>
        'part' in piece && needs(convention, piece, values) ? (convention.byId.get(piece.part) ?? []) : [],
      ),
  ),
]

/** Whether a piece has no text although its part has to be there, or is there with a value that is not known. */
function needs(convention: ReadyConvention, piece: FolderPiece, values: PartValues): boolean {
  if ('text' in piece || pieceText(convention, piece, values) !== null) return false
  const ready = convention.byId.get(piece.part)
  return !!ready && (!ready.part.optional || !!values[piece.part])
}

function pieceText(convention: ReadyConvention, piece: FolderPiece, values: PartValues): string | null {
  if ('text' in piece) return piece.text
  const ready = convention.byId.get(piece.part)
  if (!ready) return null
  const { part } = ready
  if (part.kind === 'text') return part.text
  const value = values[piece.part]
  if (!value) return null
  if (part.kind === 'date') {
    if (piece.as === 'year') return value.slice(0, 4)
    if (piece.as === 'month') return valueInForm(value, 'YYYY-MM')
    return value
  }
  if (part.kind === 'list' && piece.as === 'label') {
    const known = ready.values.find(({ code }) => code === value)
    return known ? known.label || known.code : null
  }
  if (part.kind === 'list' && piece.as === 'name') {
    const known = ready.values.find(({ code }) => code === value)
    return known ? (part.shows === 'code' ? known.code : labelText(known)) : null
  }
  return ready.write(value)
}

/** The value of a file kind part for a type's kind. */
export const kindValue = (kind: FileKind): string => kind
