import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { anyParagraphLook } from '../../content/document.arbitrary'
import { readOds } from '../ods/read'
import { odsOf } from '../ods/testing'
import { writeOds } from '../ods/write'
import { readOdt } from '../odt/read'
import { odtOf } from '../odt/testing'
import { writeOdt } from '../odt/write'
import { openZip } from '../opc/zip'
import { DamagedFile } from '../refusals'
import { fromPixels, fromTwips, pixelsOf, pointsOf, twipsOf } from './lengths'
import {
  alignOf,
  breaksBefore,
  marksOf,
  missingFrom,
  paragraphAttributesOf,
  paragraphLookOf,
  propertiesOf,
  type TextProperties,
  textAttributesOf,
  textProperties,
} from './properties'

const color = fc.nat(0xffffff).map((value) => `#${value.toString(16).padStart(6, '0')}`)
const anyText: fc.Arbitrary<Required<TextProperties>> = fc.record({
  strong: fc.boolean(),
  em: fc.boolean(),
  underline: fc.boolean(),
  strike: fc.boolean(),
  place: fc.constantFrom('raised' as const, 'lowered' as const, '' as const),
  color: fc.option(color),
  fill: fc.option(color),
  size: fc.option(fc.integer({ min: 2, max: 200 }).map((half) => half / 2)),
  font: fc.option(fc.constantFrom('Courier', 'A & B', 'Grüße, 2', "It's")),
})
const none: Required<TextProperties> = propertiesOf([]).properties

describe('what styles say', () => {
  test('of letters comes back, and so do the marks that it means', () => {
    fc.assert(
      fc.property(anyText, fc.option(fc.webUrl()), (said, link) => {
        const again = textProperties(textAttributesOf(said), () => undefined)
        expect({ ...none, ...again }).toEqual(said)
        expect(propertiesOf(marksOf(said, link))).toEqual({ properties: said, link })
      }),
    )
  })

  test('what letters lack is what makes them as they are to be', () => {
    fc.assert(
      fc.property(anyText, anyText, (wanted, got) => {
        const missing = missingFrom(wanted, got)
        expect({ ...got, ...missing }).toEqual(wanted)
        expect(Object.entries(missing).every(([name, value]) => got[name as keyof TextProperties] !== value)).toBe(true)
      }),
    )
  })

  test('of paragraphs comes back, beside what of them is not known here', () => {
    const align = fc.constantFrom(null, 'center' as const, 'right' as const, 'justify' as const)
    fc.assert(
      fc.property(fc.option(anyParagraphLook), align, fc.boolean(), (look, where, broken) => {
        const before = { 'fo:keep-with-next': 'always', 'fo:margin': '1in', 'fo:text-align': 'start' }
        const now = paragraphAttributesOf({ align: where, look, broken }, before)
        expect(now['fo:keep-with-next']).toBe('always')
        expect([paragraphLookOf(now), alignOf(now), breaksBefore(now)]).toEqual([look, where, broken])
      }),
    )
  })
})

test('lengths are read in every unit, and written so that they come back', () => {
  expect(['1in', '2.54cm', '25.4mm', '72pt', '6pc', '96px', '.5in', '-1in'].map(twipsOf)).toEqual([
    1440, 1440, 1440, 1440, 1440, 1440, 720, -1440,
  ])
  expect(['50%', '', '3', 'x1cm', '1em', undefined].map(twipsOf)).toEqual(Array(6).fill(undefined))
  expect(pointsOf('1in')).toBe(72)
  fc.assert(
    fc.property(fc.integer({ min: -40_000, max: 40_000 }), (length) => {
      expect([twipsOf(fromTwips(length)), pixelsOf(fromPixels(length))]).toEqual([length, length])
    }),
  )
})

/** Bytes of a package with its content changed. */
const withContent = (bytes: Uint8Array, change: (xml: string) => string): Uint8Array => {
  const content = new TextDecoder().decode(openZip(bytes).read('content.xml'))
  return openZip(bytes).patched(new Map([['content.xml', new TextEncoder().encode(change(content))]]))!
}
const list = '<text:list><text:list-item><text:p>a</text:p></text:list-item></text:list>'
const cells =
  '<table:table><table:table-column/><table:table-row><table:table-cell office:value-type="float" office:value="1"><text:p>1</text:p></table:table-cell></table:table-row></table:table>'
const text = odtOf(
  `<text:h text:outline-level="2">Gates</text:h><text:p>One <text:span text:style-name="T">two</text:span></text:p>${list}${cells}`,
  {
    automatic:
      '<style:style style:name="T" style:family="text"><style:text-properties fo:font-size="3pt"/></style:style>',
  },
)
const sheet = odsOf(cells)

describe('files that are made to harm', () => {
  test('whatever is cut out of a file or put into it, it is read in bounds or refused with a sentence', () => {
    const junk = fc.constantFrom(
      '',
      '<',
      '</text:p>',
      '<text:s text:c="999999999"/>',
      ' text:c="-1"',
      '<table:table>',
      '<text:list>',
      '&#0;',
      '<text:note><text:note-body>',
      'table:number-rows-repeated="9999999"',
    )
    fc.assert(
      fc.property(fc.nat(), fc.nat(40), junk, (at, length, put) => {
        for (const [bytes, read] of [
          [text, readOdt],
          [sheet, readOds],
        ] as const) {
          const harmed = withContent(bytes, (xml) => {
            const place = at % xml.length
            return xml.slice(0, place) + put + xml.slice(place + length)
          })
          try {
            read(harmed)
          } catch (error) {
            expect(error).toBeInstanceOf(DamagedFile)
          }
        }
      }),
      { numRuns: 400 },
    )
  })

  test('a run of cells that is said once for millions is refused before memory runs out', () => {
    const many = (xml: string) =>
      xml
        .replace('<table:table-row>', '<table:table-row table:number-rows-repeated="2000">')
        .replace('<table:table-cell ', '<table:table-cell table:number-columns-repeated="2000" ')
    expect(() => readOdt(withContent(text, many))).toThrow(/it-has-too-many-paragraphs/)
    const row = cells.slice(cells.indexOf('<table:table-row>'), cells.indexOf('</table:table>'))
    const lookOnly =
      '<table:table-row table:number-rows-repeated="1000"><table:table-cell table:style-name="B" table:number-columns-repeated="1000"/></table:table-row>'
    const looks =
      '<style:style style:name="B" style:family="table-cell"><style:table-cell-properties fo:border="1pt solid #000000"/></style:style>'
    expect(() => readOds(odsOf(cells.replace(row, lookOnly.repeat(9)), looks))).toThrow(/more-than-cells/)
  })

  test('spaces that are said by their number are no more than a text or a cell can hold', () => {
    const spaces = '<text:s text:c="9999"/>'.repeat(900)
    expect(() => readOdt(odtOf(`<text:p>${spaces}</text:p>`))).toThrow(/text-too-long/)
    const read = readOds(
      odsOf(
        `<table:table><table:table-row><table:table-cell office:value-type="string"><text:p>a${spaces}</text:p></table:table-cell></table:table-row></table:table>`,
      ),
    )
    expect((read.workbook.sheets[0]!.rows[0]![0]!.value as string).length).toBe(32_767)
  })

  test('scripts and addresses in a file do nothing here: they stay in it, and are told', () => {
    const bytes = odtOf(
      '<text:p>a<text:script>alert(1)</text:script><text:a xlink:href="javascript:alert(1)">b</text:a></text:p>',
    )
    const { doc, limits } = readOdt(bytes)
    expect([doc.textContent, limits.map(({ feature }) => feature)]).toEqual(['ab', ['scripts']])
    expect(writeOdt(doc, bytes).bytes).toBe(bytes)
  })
})

test('the first member of what is written says what it is, unpacked', () => {
  for (const bytes of [
    writeOdt(readOdt(text).doc, null).bytes,
    writeOds({ workbook: readOds(sheet).workbook, resultOf: () => undefined }).bytes,
  ]) {
    const begin = new TextDecoder('latin1').decode(bytes.subarray(30, 100))
    expect(begin).toMatch(/^mimetypeapplication\/vnd\.oasis\.opendocument\.(?:text|spreadsheet)PK/)
    // Stored, not deflated.
    expect([bytes[8], bytes[9]]).toEqual([0, 0])
  }
})
