// How sheets come to paper in files of the open standard, made by a writer that shares nothing with ours.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { readOds } from './read'
import { odsOf } from './testing'

const made = `
import sys
from odf.opendocument import OpenDocumentSpreadsheet
from odf.style import (Style, PageLayout, PageLayoutProperties, MasterPage, Header, Footer, HeaderStyle, HeaderFooterProperties,
  RegionLeft, RegionRight, TableProperties, TableRowProperties)
from odf.table import Table, TableRow, TableCell, TableHeaderRows, TableColumn, TableHeaderColumns
from odf.text import P, PageNumber, PageCount, SheetName

book = OpenDocumentSpreadsheet()
layout = PageLayout(name='Wide')
layout.addElement(PageLayoutProperties(pagewidth='29.7cm', pageheight='21cm', printorientation='landscape', margintop='1cm',
  marginbottom='2cm', marginleft='1.5cm', marginright='1.5cm', print='grid headers', printpageorder='ltr', tablecentering='horizontal',
  scaleto='80%', firstpagenumber='4'))
head = HeaderStyle()
head.addElement(HeaderFooterProperties(minheight='0.5cm'))
layout.addElement(head)
book.automaticstyles.addElement(layout)
master = MasterPage(name='Wide', pagelayoutname='Wide')
header = Header()
left = RegionLeft()
left.addElement(P(text='Locks & gates'))
header.addElement(left)
right = RegionRight()
line = P()
line.addText('Page ')
line.addElement(PageNumber())
line.addText(' of ')
line.addElement(PageCount())
right.addElement(line)
header.addElement(right)
master.addElement(header)
footer = Footer()
sheet = P()
sheet.addElement(SheetName())
footer.addElement(sheet)
master.addElement(footer)
book.masterstyles.addElement(master)
look = Style(name='ta1', family='table', masterpagename='Wide')
look.addElement(TableProperties(display='true'))
book.automaticstyles.addElement(look)
broken = Style(name='ro1', family='table-row')
broken.addElement(TableRowProperties(breakbefore='page'))
book.automaticstyles.addElement(broken)
table = Table(name="Gates' list", stylename='ta1', printranges="$'Gates'' list'.$A$1:$'Gates'' list'.$D$20 'Gates'' list'.F2")
titles = TableHeaderColumns()
titles.addElement(TableColumn())
table.addElement(titles)
table.addElement(TableColumn(numbercolumnsrepeated=3))

def row(words, **more):
  one = TableRow(**more)
  for word in words:
    cell = TableCell(valuetype='string')
    cell.addElement(P(text=word))
    one.addElement(cell)
  return one

table.addElement(row(['before']))
rows = TableHeaderRows()
rows.addElement(row(['Lock', 'Gate']))
rows.addElement(row(['', 'upper']))
table.addElement(rows)
table.addElement(row(['LK01'], numberrowsrepeated=4))
table.addElement(row(['LK05'], stylename=broken))
book.spreadsheet.addElement(table)
book.save(sys.argv[1])
`

test('a sheet comes to paper as its file says', () => {
  const folder = mkdtempSync(join(tmpdir(), 'jaula-ods-'))
  try {
    const file = join(folder, 'gates.ods')
    execFileSync('/usr/bin/python3', ['-c', made, file])
    const { looks, workbook } = readOds(new Uint8Array(readFileSync(file)))
    expect(workbook.sheets[0]!.name).toBe('Gates’ list'.replace('’', "'"))
    const centimetre = 72 / 2.54
    const about = (length: number) => expect.closeTo(length * centimetre, 0)
    expect(looks[0]!.paper).toEqual({
      width: about(21),
      height: about(29.7),
      landscape: true,
      margins: {
        top: about(1.5),
        bottom: about(2),
        left: about(1.5),
        right: about(1.5),
        head: about(1),
        foot: about(2),
      },
      head: { all: '&LLocks && gates&RPage &P of &N' },
      foot: { all: '&C&A' },
      gridLines: true,
      headings: true,
      across: true,
      centered: { across: true, down: false },
      scale: 80,
      firstNumber: 4,
      areas: [
        { top: 0, left: 0, bottom: 19, right: 3 },
        { top: 1, left: 5, bottom: 1, right: 5 },
      ],
      titleRows: [1, 2],
      titleColumns: [0, 0],
      rowBreaks: [7],
    })
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
})

test('one of which nothing is said is as is usual', () => {
  const table =
    '<table:table table:name="A"><table:table-row><table:table-cell office:value-type="string"><text:p>x</text:p></table:table-cell></table:table-row></table:table>'
  expect(readOds(odsOf(table)).looks[0]!.paper).toBeUndefined()
})
