// Writes how a sheet is put on paper where it says so: options (ECMA-376 part 1, §18.3.1.70), margins (§18.3.1.62), set-up
// (§18.3.1.63) and whether it is fitted (§18.3.1.65). What is written is all that can be chosen; the rest stays.
import { paperSizes } from '../../content/paper-sizes'
import type { SheetSetUp } from '../../content/sheet-set-up'
import { childrenIn, rootOf, type Spanned, Splices } from '../opc/spans'
import { tagWith } from './patch-rows'

/** What stands behind each of them in a sheet (§18.3.1.99). */
const behindMargins = new Set(
  'pageSetup headerFooter rowBreaks colBreaks customProperties cellWatches ignoredErrors smartTags drawing legacyDrawing legacyDrawingHF drawingHF picture oleObjects controls webPublishItems tableParts extLst'.split(
    ' ',
  ),
)
const inches = (points: number): string => String(Math.round((points / 72) * 100_000) / 100_000)
const numberOfSize = (size: readonly [number, number]): string | null =>
  [...paperSizes]
    .find(
      ([, [width, height]]) =>
        Math.abs(Math.min(width, height) - size[0]) < 0.1 && Math.abs(Math.max(width, height) - size[1]) < 0.1,
    )?.[0]
    .toString() ?? null
const millimetres = (points: number): string => `${Math.round((points * 25.4 * 100) / 72) / 100}mm`

/** @param xml of the sheet's part */
export function patchSetUp(xml: string, prefix: string, setUp: SheetSetUp): string {
  const splices = new Splices()
  const root = rootOf(xml)
  const parts = new Map<string, Spanned>()
  let margins = root.inner[1]
  for (const element of childrenIn(xml, root.inner)) {
    const name = element.name.slice(prefix.length)
    parts.set(name, element)
    if (behindMargins.has(name)) margins = Math.min(margins, element.start)
  }
  const options = parts.get('printOptions')
  const own = parts.get('pageMargins')
  const { size, landscape, scale, fit, gridLines, headings, across } = setUp
  /** An element with these attributes, the rest as they are; nothing where none is left. */
  const put = (name: string, element: Spanned | undefined, set: Record<string, string | null>, at: number) => {
    const said = Object.entries(set).flatMap(([key, value]) => (value === null ? [] : ` ${key}="${value}"`))
    if (element) splices.replace(element.start, element.end, `${tagWith(xml, element, set)}/>`)
    else if (said.length) splices.insert(at, `<${prefix}${name}${said.join('')}/>`)
  }
  const lines = gridLines ? '1' : null
  put(
    'printOptions',
    options,
    { gridLines: lines, gridLinesSet: lines, headings: headings ? '1' : null },
    own?.start ?? margins,
  )
  if (setUp.margins) {
    const { top, right, bottom, left, head, foot } = setUp.margins
    const length = { left, right, top, bottom, header: head, footer: foot }
    put(
      'pageMargins',
      own,
      Object.fromEntries(Object.entries(length).map(([key, points]) => [key, inches(points)])),
      margins,
    )
  } else if (own) splices.replace(own.start, own.end, '')
  const number = size && numberOfSize(size)
  put(
    'pageSetup',
    parts.get('pageSetup'),
    {
      paperSize: number,
      paperWidth: size && !number ? millimetres(size[0]) : null,
      paperHeight: size && !number ? millimetres(size[1]) : null,
      scale: scale !== null && scale !== 100 ? String(scale) : null,
      fitToWidth: fit && fit.wide !== 1 ? String(fit.wide) : null,
      fitToHeight: fit && fit.tall !== 1 ? String(fit.tall) : null,
      pageOrder: across ? 'overThenDown' : null,
      orientation: landscape ? 'landscape' : null,
    },
    margins,
  )
  fitted(xml, prefix, parts.get('sheetPr'), fit !== null, root, splices)
  return splices.any ? splices.apply(xml) : xml
}

function fitted(
  xml: string,
  prefix: string,
  properties: Spanned | undefined,
  fit: boolean,
  root: Spanned,
  splices: Splices,
): void {
  const said = `<${prefix}pageSetUpPr fitToPage="1"/>`
  if (!properties) {
    if (fit) splices.insert(root.inner[0], `<${prefix}sheetPr>${said}</${prefix}sheetPr>`)
    return
  }
  if (properties.kind === 'empty') {
    if (fit)
      splices.replace(properties.start, properties.end, `${tagWith(xml, properties, {})}>${said}</${properties.name}>`)
    return
  }
  const own = [...childrenIn(xml, properties.inner)].find(({ name }) => name === `${prefix}pageSetUpPr`)
  if (own) splices.replace(own.start, own.end, `${tagWith(xml, own, { fitToPage: fit ? '1' : null })}/>`)
  else if (fit) splices.insert(properties.inner[1], said)
}
