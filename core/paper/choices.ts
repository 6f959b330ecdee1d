// What somebody chooses about pages beside what the file says of them.
import type { Page } from '../content/document'
import { sizes } from '../content/paper-sizes'
import type { SheetPaper } from '../content/sheet-paper'
import type { PaperChoices } from '../contract'
import { type Said, say } from '../words/said'

/** Points on each side. */
const margins = { narrow: 28.35, usual: 56.7, wide: 85 } as const
const twips = (points: number): number => Math.round(points * 20)

/** A document's pages as they are chosen; lengths are twips. */
export function pageWith(page: Page, { size, landscape, margins: space }: PaperChoices): Page {
  const chosen = { ...page }
  if (size) [chosen.width, chosen.height] = sizes[size].map(twips) as [number, number]
  const lies = landscape ?? page.width > page.height
  if (chosen.width > chosen.height !== lies) [chosen.width, chosen.height] = [chosen.height, chosen.width]
  if (space) for (const side of ['top', 'right', 'bottom', 'left'] as const) chosen[side] = twips(margins[space])
  // Something of the page is left for its text.
  for (const [one, other, length] of [
    ['left', 'right', 'width'],
    ['top', 'bottom', 'height'],
  ] as const) {
    const most = chosen[length] * 0.8
    const there = chosen[one] + chosen[other]
    if (there > most) {
      chosen[one] = Math.round((chosen[one] * most) / there)
      chosen[other] = Math.round((chosen[other] * most) / there)
    }
  }
  return chosen
}

/** What stands in a corner, where that is chosen. @param number of its version; null for what was never saved */
export const sayCorner = (name: string, number: number | null): Said =>
  say('paper.corner-text', { name, number: number ?? 0, saved: number !== null })

/** A sheet's paper as it is chosen. */
export function sheetWith(
  paper: SheetPaper,
  { size, landscape, margins: space, fit, gridLines, headings, across }: PaperChoices,
): SheetPaper {
  const { fit: ownFit, scale, ...rest } = paper
  const fits: SheetPaper =
    fit === 'width'
      ? { fit: { wide: 1, tall: 0 } }
      : fit === 'page'
        ? { fit: { wide: 1, tall: 1 } }
        : fit === 'full'
          ? {}
          : { ...(ownFit && { fit: ownFit }), ...(scale !== undefined && { scale }) }
  return {
    ...rest,
    ...fits,
    ...(size && { width: sizes[size][0], height: sizes[size][1] }),
    ...(landscape !== null && { landscape }),
    ...(space && {
      margins: {
        top: margins[space],
        right: margins[space],
        bottom: margins[space],
        left: margins[space],
        head: margins[space] / 2,
        foot: margins[space] / 2,
      },
    }),
    ...(gridLines !== null && { gridLines }),
    ...(headings !== null && { headings }),
    ...(across !== null && { across }),
  }
}

/** Halves of letters that stand for themselves (RFC 8259, section 8.2). */
const halves = /\p{Surrogate}/gu

/** The tree as it is written for the typesetter. @param colours whether fills and coloured text are there */
export function writtenTree(tree: object, colours: boolean): string {
  return JSON.stringify(tree, function (this: object, key, value) {
    // Half a letter is none, and no JSON to others.
    if (typeof value === 'string' && halves.test(value)) return value.replace(halves, '\ufffd')
    if (colours) return value
    if (key === 'fill') return undefined
    // A line of no colour is black; text of no colour has none said.
    if (key === 'color') return 'dash' in this ? null : undefined
    return value
  })
}
