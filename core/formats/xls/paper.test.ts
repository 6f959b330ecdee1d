// How sheets come to paper in the binary format, made by a writer that shares nothing with ours.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { xlsPrintName } from './paper'
import { readXls } from './read'

const made = `
import sys, xlwt
book = xlwt.Workbook()
sheet = book.add_sheet('Gates')
for row in range(40):
  sheet.write(row, 0, 'LK%02d' % row)
sheet.portrait = False
sheet.paper_size_code = 9
sheet.print_scaling = 70
sheet.header_str = b'&LLocks && gates&R&P'
sheet.footer_str = b'&A'
sheet.top_margin = 1.5
sheet.left_margin = 0.25
sheet.header_margin = 0.4
sheet.print_grid = True
sheet.print_headers = True
sheet.print_centered_horz = True
sheet.print_centered_vert = False
sheet.print_in_rows = True
sheet.horz_page_breaks = [(12, 0, 255), (30, 0, 255)]
sheet.vert_page_breaks = [(3, 0, 65535)]
sheet.start_page_number = 5
other = book.add_sheet('Fit')
other.write(0, 0, 'x')
other.fit_num_pages = 1
other.fit_width_to_pages = 1
other.fit_height_to_pages = 0
book.save(sys.argv[1])
`

test('a sheet comes to paper as its file says', () => {
  const folder = mkdtempSync(join(tmpdir(), 'jaula-xls-'))
  try {
    const file = join(folder, 'gates.xls')
    execFileSync('/usr/bin/python3', ['-c', made, file])
    const { looks } = readXls(new Uint8Array(readFileSync(file)))
    expect(looks[0]!.paper).toMatchObject({
      width: expect.closeTo(595.28, 1),
      height: expect.closeTo(841.89, 1),
      landscape: true,
      scale: 70,
      margins: { top: 108, left: 18, head: expect.closeTo(28.8) },
      head: { all: '&LLocks && gates&R&P' },
      foot: { all: '&A' },
      gridLines: true,
      headings: true,
      centered: { across: true, down: false },
      rowBreaks: [12, 30],
      columnBreaks: [3],
    })
    expect(looks[1]!.paper).toMatchObject({ fit: { wide: 1, tall: 0 } })
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
})

test('what is printed, and titles, are read from their names', () => {
  expect(xlsPrintName(6, 'Gates!$A$1:$D$20,Gates!$F$2:$F$3')).toEqual({
    areas: [
      { top: 0, left: 0, bottom: 19, right: 3 },
      { top: 1, left: 5, bottom: 2, right: 5 },
    ],
  })
  expect(xlsPrintName(7, "'Gates'' list'!$A$1:$B$65536,'Gates'' list'!$A$1:$IV$2")).toEqual({
    titleColumns: [0, 1],
    titleRows: [0, 1],
  })
  expect(xlsPrintName(7, '#REF!')).toEqual({})
})
