// Pages of a document: what its first section says of them ([MS-DOC] §2.9.243, SED; §2.6.4).
import { a4, type Page } from '../../content/document'
import { type DocFile, Numbers, parts, plc } from './file'
import { propertiesIn } from './properties'

export interface DocPages {
  page: Page
  /** The first page has edges of its own; left pages have. */
  titled: boolean
  facing: boolean
  /** Letters at which a section ends. */
  ends: number[]
}

const lengths: Readonly<Record<number, keyof Page>> = {
  45087: 'width',
  45088: 'height',
  45089: 'left',
  45090: 'right',
  36899: 'top',
  36900: 'bottom',
}

export function pagesOf(file: DocFile): DocPages {
  const { places, at } = plc(file.part(parts.sections), 12)
  // What a section does not say is as on a page of 8.5 by 11 inches.
  const page: Page = { width: 12240, height: 15840, left: 1800, right: 1800, top: 1440, bottom: 1440 }
  const main = new Numbers(file.main)
  let titled = false
  let says = false
  if (places.length > 1) {
    const place = at(0).u32(2)
    if (place !== 0xffffffff && place < main.length)
      for (const { code, value } of propertiesIn(file.main.subarray(place + 2, place + 2 + main.u16(place)))) {
        const side = lengths[code]
        if (side) {
          page[side] = Math.min(31_680, Math.abs(value.i16(0)))
          says = true
        }
        if (code === 0x300a) titled = value.u8(0) !== 0
      }
  }
  return {
    page: says ? page : a4,
    titled,
    facing: (new Numbers(file.part(parts.document)).u8(0) & 1) === 1,
    ends: places.slice(1),
  }
}
