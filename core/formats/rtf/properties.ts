// What control words say of letters and paragraphs (Rich Text Format 1.9.1, "Character Formatting Properties",
// "Paragraph Formatting Properties", "Paragraph Borders", "Paragraph Shading").
import type { Align } from '../../content/document'
import { type BorderSide, borderSides, type LineHeight, type ParagraphBorder } from '../../content/paragraph-look'

export interface CharState {
  readonly bold: boolean
  readonly italic: boolean
  readonly underline: boolean
  readonly strike: boolean
  readonly script: '' | 'raised' | 'lowered'
  /** Places in the table of colours; 0 for none. */
  readonly color: number
  readonly fill: number
  /** Half points. */
  readonly size: number
  readonly font: number
  readonly hidden: boolean
  readonly removed: boolean
}
export type FlatBorder = Omit<ParagraphBorder, 'color'> & { color: number }
export interface ParaState {
  readonly style: number
  readonly align: Align
  readonly before: number
  readonly after: number
  readonly line: LineHeight
  readonly left: number
  readonly right: number
  readonly first: number
  readonly fill: number
  readonly borders: Readonly<Partial<Record<BorderSide, FlatBorder>>>
  readonly inTable: boolean
  readonly depth: number
  /** The list it stands in, 0 for none, and how deep. */
  readonly list: number
  readonly level: number
  /** How deep a heading it is, from 0; null for none. */
  readonly outline: number | null
  readonly broken: boolean
  /** Numbered in the older way: by the name of that. */
  readonly older: string | null
}

const single: LineHeight = { share: 240 }
export const plainPara: ParaState = {
  style: 0,
  align: null,
  before: 0,
  after: 0,
  line: single,
  left: 0,
  right: 0,
  first: 0,
  fill: 0,
  borders: {},
  inTable: false,
  depth: 1,
  list: 0,
  level: 0,
  outline: null,
  broken: false,
  older: null,
}
export const plainChar = (font: number): CharState => ({
  bold: false,
  italic: false,
  underline: false,
  strike: false,
  script: '',
  color: 0,
  fill: 0,
  size: 24,
  font,
  hidden: false,
  removed: false,
})

/** Which border the words that follow are of; null for one that paragraphs do not have. */
export type Bordered = readonly BorderSide[] | null
export const borderedBy: Readonly<Record<string, Bordered>> = {
  brdrt: ['top'],
  brdrb: ['bottom'],
  brdrl: ['left'],
  brdrr: ['right'],
  box: borderSides,
  brdrbtw: null,
  brdrbar: null,
  clbrdrt: null,
  clbrdrb: null,
  clbrdrl: null,
  clbrdrr: null,
  trbrdrt: null,
  trbrdrb: null,
  trbrdrl: null,
  trbrdrr: null,
  trbrdrh: null,
  trbrdrv: null,
  chbrdr: null,
  pgbrdrt: null,
  pgbrdrb: null,
  pgbrdrl: null,
  pgbrdrr: null,
}
const kinds: Readonly<Record<string, ParagraphBorder['kind']>> = {
  brdrs: 'single',
  brdrth: 'single',
  brdrhair: 'single',
  brdrsh: 'single',
  brdrdb: 'double',
  brdrtriple: 'double',
  brdrdot: 'dotted',
  brdrdash: 'dashed',
  brdrdashsm: 'dashed',
  brdrdashd: 'dashed',
  brdrdashdd: 'dashed',
  brdrwavy: 'single',
  brdrwavydb: 'double',
  brdroutset: 'single',
  brdrinset: 'single',
  brdremboss: 'single',
  brdrengrave: 'single',
}
const within = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value))
export const newBorder: FlatBorder = { kind: 'single', width: 2, space: 0, color: 0 }

/** A border with what a word says of it; null where the word says that there is none, undefined where it says nothing. */
export function borderWith(border: FlatBorder, name: string, value: number | null): FlatBorder | null | undefined {
  const kind = kinds[name]
  if (kind) return { ...border, kind, ...(name === 'brdrth' && { width: within(border.width * 2, 2, 96) }) }
  if (name === 'brdrw') return { ...border, width: within(Math.round((value ?? 0) / 2.5), 2, 96) }
  if (name === 'brsp') return { ...border, space: within(Math.round((value ?? 0) / 20), 0, 31) }
  if (name === 'brdrcf') return { ...border, color: value ?? 0 }
  if (name === 'brdrnone' || name === 'brdrnil') return null
  return undefined
}

const aligns: Readonly<Record<string, Align>> = { ql: null, qc: 'center', qr: 'right', qj: 'justify', qd: 'justify' }
const mostTwips = 31_680
const twips = (value: number | null) => within(value ?? 0, -mostTwips, mostTwips)

/** A paragraph with what a word says of it; undefined for a word that says nothing of paragraphs. */
export function paraWith(para: ParaState, name: string, value: number | null): ParaState | undefined {
  if (name in aligns) return { ...para, align: aligns[name]! }
  switch (name) {
    case 'pard':
      return plainPara
    case 's':
      return { ...para, style: value ?? 0 }
    case 'sb':
      return { ...para, before: Math.max(0, twips(value)) }
    case 'sa':
      return { ...para, after: Math.max(0, twips(value)) }
    case 'sl': {
      const height = twips(value)
      const line: LineHeight = height === 0 ? single : height < 0 ? { exact: -height } : { least: height }
      return { ...para, line }
    }
    case 'slmult': {
      const height = 'least' in para.line ? para.line.least : 'share' in para.line ? para.line.share : 0
      if (!height) return para
      return { ...para, line: value === 1 ? { share: height } : para.line }
    }
    case 'li':
    case 'lin':
      return { ...para, left: twips(value) }
    case 'ri':
    case 'rin':
      return { ...para, right: twips(value) }
    case 'fi':
      return { ...para, first: twips(value) }
    case 'cbpat':
      return { ...para, fill: value ?? 0 }
    case 'intbl':
      return { ...para, inTable: true }
    case 'itap':
      return { ...para, depth: Math.max(1, value ?? 1), inTable: (value ?? 1) > 0 }
    case 'ls':
      return { ...para, list: value ?? 0 }
    case 'ilvl':
      return { ...para, level: within(value ?? 0, 0, 8) }
    case 'outlinelevel':
      return { ...para, outline: value !== null && value >= 0 && value < 9 ? value : null }
    case 'pagebb':
      return { ...para, broken: value !== 0 }
    default:
      return undefined
  }
}

/** Letters with what a word says of them; undefined for a word that says nothing of letters. */
export function charWith(
  char: CharState,
  name: string,
  value: number | null,
  defaultFont: number,
): CharState | undefined {
  const on = value !== 0
  switch (name) {
    case 'plain':
      return { ...plainChar(defaultFont), removed: char.removed }
    case 'b':
      return { ...char, bold: on }
    case 'i':
      return { ...char, italic: on }
    case 'strike':
    case 'striked':
      return { ...char, strike: on }
    case 'ulnone':
      return { ...char, underline: false }
    case 'super':
      return { ...char, script: on ? 'raised' : '' }
    case 'sub':
      return { ...char, script: on ? 'lowered' : '' }
    case 'nosupersub':
      return { ...char, script: '' }
    case 'up':
      return { ...char, script: value ? 'raised' : '' }
    case 'dn':
      return { ...char, script: value ? 'lowered' : '' }
    case 'cf':
      return { ...char, color: value ?? 0 }
    case 'cb':
    case 'chcbpat':
    case 'highlight':
      return { ...char, fill: value ?? 0 }
    case 'fs':
      return { ...char, size: within(value ?? 24, 1, 3276) }
    case 'f':
      return { ...char, font: value ?? 0 }
    case 'v':
      return { ...char, hidden: on }
    case 'deleted':
      return { ...char, removed: on }
    default:
      if (
        /^ul(?:d|db|w|th|dash|dashd|dashdd|thd|thdash|thdashd|thdashdd|thldash|ldash|wave|hwave|uldbwave|hair)?$/.test(
          name,
        )
      )
        return { ...char, underline: on }
      return undefined
  }
}
/** Words that give letters or paragraphs looks that the model has no place for. */
export const looksOfText = /^(?:caps|scaps|outl|shad|embo|impr|expnd|expndtw|animtext|charscalex|kerning|chbrdr)$/
export const looksOfParagraphs = /^(?:tx|tb|tqr|tqc|tqdec|keep|keepn|hyphpar|rtlpar|contextualspace|absw|dropcapli)$/
