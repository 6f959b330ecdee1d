// A drive as the office kept it before Jaula, for the demo to take over: versions told apart by their names, doubles, old
// folders, names that computers refuse, and what programs left. Made up, the same at every run.
import { existsSync } from 'node:fs'
import { mkdir, rename, rm, utimes, writeFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import type { Node } from 'prosemirror-model'
import { writeDocx } from '../../core/formats/docx/write'
import { openZip } from '../../core/formats/opc/zip'
import { writeXlsx } from '../../core/formats/xlsx/write'
import { ods, odt } from './open-document'
import { budget, inspection, letter, levels, lockages, locks, minutes, notice, p } from './papers'

type Paper = [path: string, bytes: Uint8Array, day: string, by?: string]

/** A document with the properties that the program it was written with would have left. */
function signed(bytes: Uint8Array, by: string, day: string): Uint8Array {
  const core = `<?xml version="1.0" encoding="UTF-8" standalone="yes"?><cp:coreProperties xmlns:cp="http://schemas.openxmlformats.org/package/2006/metadata/core-properties" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:dcterms="http://purl.org/dc/terms/" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance"><cp:lastModifiedBy>${by}</cp:lastModifiedBy><dcterms:modified xsi:type="dcterms:W3CDTF">${day}T09:30:00Z</dcterms:modified></cp:coreProperties>`
  return openZip(bytes).patched(new Map([['docProps/core.xml', new TextEncoder().encode(core)]])) ?? bytes
}

function papers(): Paper[] {
  const all: Paper[] = []
  const paper = (path: string, doc: Node, day: string, by: string) =>
    all.push([path, signed(writeDocx(doc), by, day), day, by])
  const [ben, ida, old] = ['Ben Marlowe', 'Ida Thornquist', 'Cora Whitlow']
  // Inspections, each written over several days.
  for (const [n, lock] of locks.entries()) {
    const day = (more: number) => `2024-${String(2 + n).padStart(2, '0')}-${String(4 + more * 3).padStart(2, '0')}`
    const name = `Inspection ${lock} Gate paddles`
    const grown = (stage: number) => inspection(lock, 'Gate paddles', day(0), stage)
    paper(`Inspections/${lock}/${name}.docx`, grown(3), day(0), old)
    if (n % 2) paper(`Inspections/${lock}/${name} v2.docx`, grown(5), day(1), ben)
    if (n % 3 === 0) paper(`Inspections/${lock}/Copy of ${name}.docx`, grown(3), day(0), old)
    if (n % 3) paper(`Inspections/${lock}/${name} FINAL.docx`, grown(8), day(2), ida)
    if (n === 4) paper(`Inspections/${lock}/old/${name}.docx`, grown(1), day(-1), old)
  }
  const offer = letter('Harlan & Sons', 'Relining of the chamber at LK03')
  const more = (...words: string[]) => offer.copy(offer.content.append(offer.type.create(null, words.map(p)).content))
  paper('Tenders/Tender letter Harlan.docx', offer, '2023-09-04', ben)
  paper('Tenders/Tender letter Harlan (2).docx', more('Site visits are on Tuesdays.'), '2023-09-06', ben)
  paper(
    'Tenders/Tender letter Harlan final.docx',
    more('Site visits are on Tuesdays.', 'The bond is five per cent of the price.'),
    '2023-09-11',
    ida,
  )
  paper(
    'Tenders/Tender letter Harlan final signed.docx',
    more('Site visits are on Tuesdays.', 'The bond is five per cent of the price.', 'Signed by the chair.'),
    '2023-09-12',
    ida,
  )
  for (const [n, points] of [
    ['Dredge the pound below LK05 in May', 'Ask for three offers'],
    ['Rescue the oak at BR06', 'Close the towpath for a week'],
    ['Order two balance beams', 'Paint the ladders'],
  ].entries())
    paper(
      `Minutes/Minutes ${11 + n}.0${3 + n}.2024.docx`,
      minutes(`2024-0${3 + n}-${11 + n}`, points),
      `2024-0${3 + n}-${12 + n}`,
      old,
    )
  paper(
    'Notices/Stoppage LK02.docx',
    notice('LK02', '2 April', '9 April', 'The lower gates are lifted out.'),
    '2024-03-18',
    ben,
  )
  paper(
    'Notices/Stoppage LK02 new.docx',
    notice('LK02', '2 April', '16 April', 'The lower gates are lifted out.'),
    '2024-03-25',
    ben,
  )
  for (const [n, version] of [1, 4, 9].entries())
    all.push([
      `Money/Maintenance budget${n ? ` v${n + 1}` : ''}.xlsx`,
      signed(writeXlsx(budget(version)), ida, `2024-0${n + 1}-08`),
      `2024-0${n + 1}-08`,
      ida,
    ])
  all.push(['Money/Lockage ledger 2023.xlsx', signed(writeXlsx(lockages(80)), old, '2023-12-29'), '2023-12-29', old])
  all.push(['Water levels.ods', ods(levels()), '2024-10-30'])
  all.push([
    'Mooring rules: draft?.odt',
    odt(['Moorings above BR04 are for visitors.', 'Stay no longer than three nights.']),
    '2022-05-20',
  ])
  const text = (path: string, words: string, day: string) => all.push([path, new TextEncoder().encode(words), day])
  text('Inspections/Thumbs.db', 'thumbs', '2024-01-02')
  text('Tenders/~$nder letter Harlan.docx', 'lock', '2023-09-04')
  text('Notes/Divers.txt', 'The divers found the sill sound and the apron worn.', '2023-06-02')
  text('Notes/Divers copy.txt', 'The divers found the sill sound and the apron worn.', '2023-06-02')
  all.push(['Notes/Torn report.docx', writeDocx(inspection('LK01', 'Sill', '2 June 2023')).slice(0, 900), '2023-06-03'])
  text('Notes/Nothing.docx', '', '2023-06-03')
  return all
}

/** Makes the drive where there is none yet. */
export async function makeOldDrive(folder: string): Promise<void> {
  if (existsSync(folder)) return
  // One that was half made is none.
  const own = `${folder}.part`
  await rm(own, { recursive: true, force: true })
  for (const [path, bytes, day] of papers()) {
    const file = join(own, path)
    await mkdir(dirname(file), { recursive: true })
    await writeFile(file, bytes)
    const time = new Date(`${day}T10:00:00Z`)
    await utimes(file, time, time)
  }
  await rename(own, folder)
}
