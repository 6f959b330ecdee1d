// Papers of the demo that another writer made, as offices get them: with header and footer, notes, comments, an
// equation and tracked changes; and prices with merged cells, borders, a filter and a chart. The same bytes each time.
import {
  AlignmentType,
  CommentRangeEnd,
  CommentRangeStart,
  CommentReference,
  DeletedTextRun,
  Document,
  Math as Equation,
  Footer,
  FootnoteReferenceRun,
  Header,
  HeadingLevel,
  InsertedTextRun,
  LevelFormat,
  MathFraction,
  MathRun,
  Packer,
  PageNumber,
  Paragraph,
  ShadingType,
  TextRun,
} from 'docx'
import ExcelJS from 'exceljs'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { withChart } from './chart'

const written = new Date('2026-11-09T09:00:00Z')

/** A package whose parts carry one time, whenever it was made. */
function settled(bytes: Uint8Array): Uint8Array {
  const parts = unzipSync(bytes)
  const core = parts['docProps/core.xml']
  if (core)
    parts['docProps/core.xml'] = strToU8(
      strFromU8(core).replace(/\d{4}-\d\d-\d\dT[\d:.]+Z/g, written.toISOString().replace('.000', '')),
    )
  return zipSync(parts, { mtime: new Date(2026, 10, 9) })
}

/** A firm's offer for the gate paddles, with what the engineer asked beside it. */
export async function offer(): Promise<Uint8Array> {
  const rule = { style: 'single', size: 6, space: 4, color: '6B4A1F' } as const
  const by = { author: 'Ben Marlowe', date: written.toISOString() }
  const made = new Document({
    creator: 'Wherry and Sons, Millwrights',
    styles: {
      default: {
        document: { run: { font: 'Cambria', size: 22 }, paragraph: { spacing: { after: 150, line: 276 } } },
        heading1: { run: { size: 34, bold: true, color: '6B4A1F' }, paragraph: { spacing: { after: 200 } } },
      },
      paragraphStyles: [
        {
          id: 'Terms',
          name: 'Terms of sale',
          basedOn: 'Normal',
          quickFormat: true,
          run: { font: 'Georgia', size: 19, color: '6B4A1F', italics: true },
          paragraph: {
            indent: { left: 360 },
            spacing: { before: 200 },
            border: { left: { style: 'single', size: 12, space: 8, color: '6B4A1F' } },
          },
        },
      ],
    },
    footnotes: {
      1: { children: [new Paragraph('Measured at the sill on 14 October, with the chamber drained.')] },
      2: { children: [new Paragraph('Without the crane, which the Trust provides.')] },
    },
    comments: {
      children: [
        { id: 0, ...by, date: written, initials: 'BM', children: [new Paragraph('Does this hold for both hands?')] },
      ],
    },
    numbering: {
      config: [
        {
          reference: 'asked',
          levels: [
            {
              level: 0,
              format: LevelFormat.LOWER_LETTER,
              text: '(%1)',
              alignment: AlignmentType.LEFT,
              style: { paragraph: { indent: { left: 720, hanging: 360 } } },
            },
          ],
        },
      ],
    },
    sections: [
      {
        headers: { default: new Header({ children: [new Paragraph('Wherry and Sons, Millwrights')] }) },
        footers: {
          default: new Footer({
            children: [new Paragraph({ children: [new TextRun({ children: ['Page ', PageNumber.CURRENT] })] })],
          }),
        },
        children: [
          new Paragraph({ text: 'Offer: gate paddles at LK07', heading: HeadingLevel.HEADING_1 }),
          new Paragraph('To the Merrowdale Canal Trust'),
          new Paragraph({
            children: [
              new TextRun('We offer four paddles of greenheart, 612 mm by 488 mm'),
              new FootnoteReferenceRun(1),
              new TextRun(', two of each hand, hung and tested. '),
              new CommentRangeStart(0),
              new TextRun('The culvert mouths are dressed first.'),
              new CommentRangeEnd(0),
              new TextRun({ children: [new CommentReference(0)] }),
            ],
          }),
          new Paragraph({
            children: [
              new TextRun('The work takes '),
              new DeletedTextRun({ text: 'nine', id: 11, ...by }),
              new InsertedTextRun({ text: 'six', id: 12, ...by }),
              new TextRun(' days from 16 November; the price is 8,640'),
              new FootnoteReferenceRun(2),
              new TextRun('.'),
            ],
          }),
          new Paragraph({
            children: [
              new TextRun('The leak through a worn paddle is taken as '),
              new Equation({
                children: [
                  new MathRun('q = '),
                  new MathFraction({ numerator: [new MathRun('V')], denominator: [new MathRun('t')] }),
                ],
              }),
              new TextRun(', so that we expect the level to hold overnight. Of the Trust we ask'),
            ],
          }),
          ...['the drained chamber, from 16 November', 'the crane, for two mornings'].map(
            (text) => new Paragraph({ text, numbering: { reference: 'asked', level: 0 } }),
          ),
          new Paragraph({
            text: 'Payable in two halves: the first with the order, the second when the level has held for a night.',
            indent: { left: 567, right: 567 },
            spacing: { before: 120, after: 120 },
            shading: { fill: 'F3E9DA', type: ShadingType.CLEAR },
            border: { top: rule, bottom: rule },
          }),
          new Paragraph('Wherry and Sons'),
          new Paragraph({ style: 'Terms', text: 'Prices hold for sixty days from the date of this offer.' }),
        ],
      },
    ],
  })
  return settled(new Uint8Array(await Packer.toBuffer(made)))
}

/** What the offer's price is made of. */
export async function offerPrices(): Promise<Uint8Array> {
  const workbook = new ExcelJS.Workbook()
  workbook.creator = 'Wherry and Sons, Millwrights'
  workbook.created = written
  workbook.modified = written
  const sheet = workbook.addWorksheet('Prices', { views: [{ state: 'frozen', ySplit: 2 }] })
  sheet.mergeCells('A1:D1')
  const title = sheet.getCell('A1')
  title.value = 'Gate paddles at LK07'
  title.font = { name: 'Georgia', size: 16, bold: true }
  title.alignment = { horizontal: 'center', vertical: 'middle' }
  sheet.getRow(1).height = 32
  sheet.columns = [{ width: 30 }, { width: 10 }, { width: 12 }, { width: 14 }]
  const line = { style: 'thin', color: { argb: 'FF6B6B6B' } } as const
  sheet.getRow(2).values = ['Item', 'Number', 'Each', 'Price']
  for (const [index, [item, number, each]] of [
    ['Paddles of greenheart', 4, 1240],
    ['Rods and racks', 4, 310],
    ['Dressing of the culvert mouths', 2, 460],
    ['Hanging and testing', 6, 253.333],
  ].entries()) {
    const row = index + 3
    sheet.getRow(row).values = [item, number, each] as ExcelJS.CellValue[]
    sheet.getCell(`D${row}`).value = { formula: `B${row}*C${row}`, result: Number(number) * Number(each) }
  }
  sheet.getCell('A7').value = 'Together'
  sheet.getCell('D7').value = { formula: 'SUM(D3:D6)', result: 8639.998 }
  for (let row = 2; row <= 7; row++)
    for (let column = 1; column <= 4; column++) {
      const cell = sheet.getCell(row, column)
      cell.border = { top: line, bottom: row === 7 ? { ...line, style: 'double' } : line, left: line, right: line }
      if (row === 2 || row === 7) cell.font = { bold: true }
      if (column > 2 && row > 2) cell.numFmt = '#,##0.00'
    }
  sheet.autoFilter = 'A2:D6'
  const plain = new Uint8Array((await workbook.xlsx.writeBuffer()) as ArrayBuffer)
  return settled(
    withChart(plain, {
      title: 'Where the money goes',
      sheet: 'Prices',
      names: 'A3:A6',
      values: 'D3:D6',
      from: { column: 0, row: 8 },
      to: { column: 4, row: 22 },
    }),
  )
}
