// A document as a text of the OpenDocument format (ISO/IEC 26300): a new one is written into one that is blank.
import type { Node } from 'prosemirror-model'
import { a4 } from '../../content/document'
import { blankParts } from '../odf/blank'
import { fromTwips } from '../odf/lengths'
import { writeZip } from '../opc/zip'
import { saidOtherwise } from '../read-again'
import { allOf, NotPatched, type Written } from '../refusals'
import { missingStyles } from './common-styles'
import { patchOdt } from './patch'
import { type ReadOdt, readOdt } from './read'

function blank(): Uint8Array {
  const { width, height, top, right, bottom, left } = a4
  const page =
    `fo:page-width="${fromTwips(width)}" fo:page-height="${fromTwips(height)}" style:print-orientation="portrait"` +
    ` fo:margin-top="${fromTwips(top)}" fo:margin-right="${fromTwips(right)}" fo:margin-bottom="${fromTwips(bottom)}" fo:margin-left="${fromTwips(left)}"`
  return writeZip(
    blankParts('text', {
      body: '<office:text></office:text>',
      styles:
        '<style:default-style style:family="paragraph"><style:paragraph-properties fo:margin-top="0pt" fo:margin-bottom="8pt" fo:line-height="115%" style:tab-stop-distance="36pt"/><style:text-properties fo:font-family="Carlito, Calibri, sans-serif" fo:font-size="11pt"/></style:default-style>' +
        Object.values(missingStyles).join(''),
      layout: `<style:page-layout style:name="Page"><style:page-layout-properties ${page}/></style:page-layout>`,
      masters: '<style:master-page style:name="Standard" style:page-layout-name="Page"/>',
    }),
  )
}

/** @param from the text that it was read from; null for one that is new */
export function writeOdt(doc: Node, from: Uint8Array | null): Written {
  const read = readOdt(from ?? blank())
  // As long as nothing in it is another, it is the file.
  if (from && read.doc.eq(doc)) return { bytes: from, lost: [] }
  try {
    return readAgain(read, doc)
  } catch (error) {
    if (!(error instanceof NotPatched) || !from) throw error
    const { bytes, lost } = readAgain(readOdt(blank()), doc)
    return { bytes, lost: allOf(lost, read.limits) }
  }
}

/** What was written is read again: what is not in it is told. */
function readAgain({ source }: ReadOdt, doc: Node): Written {
  for (const numbered of [false, true]) {
    const { bytes, lost, expected } = patchOdt(source, doc, numbered)
    const again = readOdt(bytes).doc
    if (again.eq(expected)) return { bytes, lost }
    // Lists that go on from one that has other items now say their own numbers.
    if (!numbered) continue
    return { bytes, lost: allOf(lost, saidOtherwise(again, expected)) }
  }
  throw new NotPatched()
}
