// Documents as Rich Text Format 1.9.1 and back: a new one is written into one that is blank.
import type { Node } from 'prosemirror-model'
import { a4 } from '../../content/document'
import type { StyleLook } from '../docx/style-looks'
import { roleOf } from '../flat/roles'
import { flatStyleLook } from '../flat/style-look'
import { saidOtherwise } from '../read-again'
import { allOf, DamagedFile, NotPatched, type Written } from '../refusals'
import { pageText } from './page'
import { patchRtf } from './patch'
import { plainPara } from './properties'
import { type ReadRtf, readRtf } from './read'
import { flatChar, flatPara, headingOf, namedStyle } from './story'

/** Its usual style is that of every document that Jaula writes. */
const blank = (): Uint8Array =>
  new TextEncoder().encode(
    `{\\rtf1\\ansi\\ansicpg1252\\uc1\\deff0{\\fonttbl{\\f0\\froman\\fcharset0 Source Serif 4;}}\n{\\colortbl;}\n{\\stylesheet{\\s0\\sa140\\sl288\\slmult1\\f0\\fs22 Normal;}}\n${pageText(a4)}\n}`,
  )

/** @param from the text that it was read from; null for one that is new */
export function writeRtf(doc: Node, from: Uint8Array | null): Written {
  if (!from) return whole(doc)
  const read = readRtf(from)
  // As long as nothing in it is another, it is the file.
  if (read.doc.eq(doc)) return { bytes: from, lost: [] }
  for (const letters of [true, false]) {
    const written = tried(read, doc, letters)
    if (written) return written
  }
  const { bytes, lost } = whole(doc)
  return { bytes, lost: allOf(lost, read.limits) }
}

/** What was written is read again; null where that is not what was to be written. */
function tried(read: ReadRtf, doc: Node, letters: boolean): Written | null {
  try {
    const { bytes, lost, expected } = patchRtf(read, doc, letters)
    return readRtf(bytes).doc.eq(expected) ? { bytes, lost } : null
  } catch (error) {
    if (error instanceof NotPatched || error instanceof DamagedFile) return null
    throw error
  }
}

function whole(doc: Node): Written {
  const { bytes, lost, expected } = patchRtf(readRtf(blank()), doc, false)
  return { bytes, lost: allOf(lost, saidOtherwise(readRtf(bytes).doc, expected)) }
}

/** How the styles of a text look, as declarations of CSS made from numbers, colours and names that were checked. */
export function readRtfLooks(bytes: Uint8Array): StyleLook[] {
  let source: ReadRtf['source']
  try {
    source = readRtf(bytes).source
  } catch (error) {
    if (error instanceof DamagedFile) return []
    throw error
  }
  const { tables } = source
  return [...tables.styles.values()].map((style) => {
    const { para, char, name } = style
    return flatStyleLook(
      {
        id: style.number === 0 ? 'Normal' : name,
        name,
        heading: headingOf(style, plainPara),
        quote: roleOf(name) === 'quote',
        named: namedStyle(style, 0, false, false) !== null,
        usual: style.number === 0,
      },
      flatPara(para, tables),
      flatChar(char, tables),
      flatPara(plainPara, tables),
    )
  })
}
