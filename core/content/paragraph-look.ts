// What a paragraph says of its place and its frame beside its style: indents, space, height of lines, fill and borders
// (ECMA-376 part 1, §17.3.1). Fields are in one order and only there where they say something, so that two looks are the
// same exactly where their JSON is.

/** §17.3.1.33: a share of the usual height, or points that are exact or at least. */
export type LineHeight = { share: number } | { exact: number } | { least: number }
export const borderSides = ['top', 'left', 'bottom', 'right'] as const
export type BorderSide = (typeof borderSides)[number]
export const borderKinds = ['single', 'double', 'dotted', 'dashed'] as const
export interface ParagraphBorder {
  kind: (typeof borderKinds)[number]
  /** Eighths of a point. */
  width: number
  /** Points between it and the text. */
  space: number
  /** null is that of the text. */
  color: string | null
}
/** Lengths are in twips where nothing else is said. */
export interface ParagraphLook {
  before?: number
  after?: number
  /** A share is in 240ths; what is exact or least is in twips. */
  line?: LineHeight
  left?: number
  right?: number
  /** Of the first line beside the others; below 0 it hangs. */
  first?: number
  fill?: string
  borders?: Partial<Record<BorderSide, ParagraphBorder>>
}

/** The widest that a length of a page is (§17.18.105 as far as pages go). */
const mostTwips = 31_680
const length = (value: unknown, least: number): number | undefined =>
  typeof value === 'number' && Number.isFinite(value) && value >= least && value <= mostTwips
    ? Math.round(value)
    : undefined
const colour = (value: unknown): string | undefined =>
  typeof value === 'string' && /^#[0-9a-f]{6}$/.test(value) ? value : undefined

function lineFrom(value: unknown): LineHeight | undefined {
  const { share, exact, least } = (value ?? {}) as Record<string, unknown>
  for (const [name, given] of Object.entries({ share, exact, least })) {
    const height = length(given, 1)
    if (height) return { [name]: height } as unknown as LineHeight
  }
  return undefined
}
function borderFrom(value: unknown): ParagraphBorder | undefined {
  const { kind, width, space, color } = (value ?? {}) as Record<string, unknown>
  const known = borderKinds.find((one) => one === kind)
  if (!known) return undefined
  const within = (given: unknown, low: number, high: number) =>
    Math.round(Math.min(high, Math.max(low, typeof given === 'number' && Number.isFinite(given) ? given : low)))
  return { kind: known, width: within(width, 2, 96), space: within(space, 0, 31), color: colour(color) ?? null }
}

/** A look from anything: what it says in order, without what no page could have; null for one that says nothing. */
export function lookFrom(value: unknown): ParagraphLook | null {
  if (typeof value !== 'object' || value === null) return null
  const given = value as Record<keyof ParagraphLook, unknown>
  const sides = (given.borders ?? {}) as Record<string, unknown>
  const borders = Object.fromEntries(
    borderSides.flatMap((side) => {
      const border = borderFrom(sides[side])
      return border ? [[side, border]] : []
    }),
  )
  const all = {
    before: length(given.before, 0),
    after: length(given.after, 0),
    line: lineFrom(given.line),
    left: length(given.left, -mostTwips),
    right: length(given.right, -mostTwips),
    first: length(given.first, -mostTwips),
    fill: colour(given.fill),
    borders: Object.keys(borders).length ? borders : undefined,
  }
  const said = Object.entries(all).filter(([, one]) => one !== undefined)
  return said.length ? (Object.fromEntries(said) as ParagraphLook) : null
}

const points = (twips: number): string => `${Math.round(twips / 2) / 10}pt`
const cssOfKind = { single: 'solid', double: 'double', dotted: 'dotted', dashed: 'dashed' } as const

/** A look as declarations of CSS. */
export function lookCss(look: ParagraphLook): Record<string, string> {
  const css: Record<string, string> = {}
  if (look.before !== undefined) css['margin-top'] = points(look.before)
  if (look.after !== undefined) css['margin-bottom'] = points(look.after)
  if (look.line)
    css['line-height'] =
      'share' in look.line
        ? String(Math.round((look.line.share / 240) * 1.2 * 100) / 100)
        : points('exact' in look.line ? look.line.exact : look.line.least)
  if (look.left !== undefined) css['margin-left'] = points(look.left)
  if (look.right !== undefined) css['margin-right'] = points(look.right)
  if (look.first !== undefined) css['text-indent'] = points(look.first)
  if (look.fill) css['background-color'] = look.fill
  for (const side of borderSides) {
    const border = look.borders?.[side]
    if (!border) continue
    css[`border-${side}`] =
      `${Math.min(6, Math.max(0.5, border.width / 8))}pt ${cssOfKind[border.kind]} ${border.color ?? 'currentColor'}`
    css[`padding-${side}`] = `${border.space}pt`
  }
  return css
}
/** The same as it stands in an element's own style; the page draws its fill, so that it can be read on a dark sheet too. */
export const lookStyle = (look: ParagraphLook): string =>
  Object.entries(lookCss(look))
    .map(([name, value]) => `${name === 'background-color' ? '--fill' : name}: ${value}`)
    .join('; ')
