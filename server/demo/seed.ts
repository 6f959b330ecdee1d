// The demo data: an invented canal trust, written by the same service calls as everything else.
// Deterministic in names, bytes and times; runs once, on an empty database.

import { createHash } from 'node:crypto'
import type { Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import type { DataSource } from 'typeorm'
import { IsNull } from 'typeorm'
import { evaluate } from '../../core/calc/evaluate'
import { largestSheet, type Workbook } from '../../core/content/workbook'
import type { Person, Role, Version } from '../../core/contract'
import { writeDocx } from '../../core/formats/docx/write'
import { writeXlsx } from '../../core/formats/xlsx/write'
import { nameKey } from '../../core/naming/check'
import { countEdit, nothingBeyond } from '../../core/recovery/beyond'
import { genesis, recordText } from '../../core/recovery/chain'
import { PersonRow } from '../accounts/entity'
import { addPerson, shown } from '../accounts/service'
import { unbounded } from '../counts/quotas'
import { DraftRow, RecoveryPointRow } from '../drafts/entity'
import { takePoint } from '../drafts/writing'
import { EntryRow, FileUseRow } from '../files/entity'
import { newFolder } from '../files/folders'
import { ConventionRow } from '../naming/entity'
import { keepVersion } from '../saving/keep'
import { ShareRow } from '../shares/entity'
import { addMember, addShare } from '../shares/service'
import { locks as advisory } from '../sql/locks'
import { inTransaction } from '../sql/transaction'
import { addTemplate, templatesFor } from '../templates/service'
import { labelVersion } from '../versions/labels'
import { offer, offerPrices } from './foreign'
import { seedNaming } from './naming'
import { ods, odt } from './open-document'
import {
  budget,
  doc,
  h,
  inspection,
  inspectionForm,
  letter,
  levels,
  list,
  lockages,
  locks,
  minutes,
  notice,
  p,
} from './papers'
import { demoAccounts } from './people'
import { seedSent } from './sent'

/** A UUID from words, so that the same demo data has the same keys. */
function uuidOf(words: string): string {
  const hex = createHash('sha256').update(words).digest('hex')
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20, 32)}`
}

export async function seedDemo(database: DataSource): Promise<void> {
  const runner = database.createQueryRunner()
  try {
    await runner.query('select pg_advisory_lock($1)', [advisory.seed])
    // The interrupted draft is written last: a seed that was cut off goes on where it stopped.
    // Where others have accounts it is somebody's own office, perhaps one that was brought back from copies.
    const [{ complete }] = await runner.query(
      `select exists (select from draft where id = $1) or exists (select from person where not handle = any($2)) as complete`,
      [uuidOf('interrupted draft'), demoAccounts.map(({ handle }) => handle)],
    )
    if (!complete) await seed(database)
    await runner.query('select pg_advisory_unlock($1)', [advisory.seed])
  } finally {
    await runner.release()
  }
}

async function seed(database: DataSource): Promise<void> {
  const [{ others }] = await database.query(
    'select exists (select from person) and not exists (select from person where handle = any($1)) as others',
    [demoAccounts.map(({ handle }) => handle)],
  )
  if (others) return
  const people = new Map<string, Person>()
  await inTransaction(database, async (manager) => {
    for (const account of demoAccounts) {
      const known = await manager.findOne(PersonRow, {
        select: { id: true, handle: true, name: true, administrator: true, mail: true },
        where: { handle: account.handle },
      })
      const person =
        (known && shown(known)) ?? (await addPerson(manager, { ...account, administrator: account.handle === 'priya' }))
      people.set(account.handle, person)
      if (!known) await manager.update(PersonRow, { id: person.id }, { mail: `${account.handle}@merrowdale.example` })
    }
  })
  const id = (handle: string) => people.get(handle)!.id
  const share = async (name: string, roles: Record<string, Role>) => {
    const known = await database.manager.findOneBy(ShareRow, { name })
    const shareId: string = known?.id ?? (await addShare(database.manager, name))
    for (const [handle, role] of Object.entries(roles)) await addMember(database.manager, shareId, id(handle), role)
    return shareId
  }
  const waterways = await share('Waterways', { ida: 'edit', ben: 'edit', priya: 'manage', tomas: 'view' })
  const finance = await share('Finance', { ben: 'edit', priya: 'manage' })
  const office = await share('Office', { ida: 'edit', ben: 'edit', priya: 'manage', tomas: 'view' })

  const folder = async (shareId: string, ...names: string[]): Promise<string> => {
    let parent: string | null = null
    for (const name of names) {
      const known: EntryRow | null = await database.manager.findOneBy(EntryRow, {
        shareId,
        folderId: parent ?? IsNull(),
        name,
        removedAt: IsNull(),
      })
      parent = known?.id ?? (await newFolder(database, id('priya'), shareId, parent, name)).id
    }
    return parent!
  }
  const keep = (
    shareId: string,
    folderId: string | null,
    name: string,
    bytes: Uint8Array,
    by: string,
    at: string,
    reason: 'saved' | 'brought in' = 'saved',
  ) =>
    keepVersion(database, unbounded, {
      personId: id(by),
      bytes: Buffer.from(bytes),
      reason,
      key: uuidOf(`${shareId} ${folderId} ${name}`),
      at: new Date(at),
      target: { place: { shareId, folderId, name } },
    })
  const docx = (node: Node) => writeDocx(node)
  const xlsx = (workbook: Workbook) => {
    const results = evaluate(workbook)
    return writeXlsx(workbook, (sheet, row, column) => results[sheet]?.get(row * largestSheet.columns + column))
  }

  const plain = [
    '2026-03-11',
    '2026-04-08',
    '2026-05-20',
    '2026-06-17',
    '2026-07-22',
    '2026-09-09',
    '2026-10-14',
    '2026-10-28',
  ]
  const subjects = [
    'Lower-gate',
    'Balance-beam',
    'Chamber',
    'Tail-silt',
    'Quoin-stones',
    'Bollards',
    'Gate-paddles',
    'Upper-gate',
  ]
  let paddles: Awaited<ReturnType<typeof keep>> | undefined
  for (const [index, lock] of locks.entries()) {
    const to = await folder(waterways, 'Inspections', '2026', lock)
    const subject = subjects[index]!.replace('-', ' ')
    const file = await keep(
      waterways,
      to,
      `${plain[index]}_${lock}_Inspection_${subjects[index]}.docx`,
      docx(inspection(lock, subject, plain[index]!, lock === 'LK07' ? 5 : 8)),
      index % 2 ? 'ben' : 'ida',
      `${plain[index]}T14:20:00Z`,
    )
    if (lock === 'LK07') paddles = file
  }
  // Two more versions of the inspection that the interrupted draft is based on.
  let head = paddles!
  for (const [stage, at, by] of [
    [7, '2026-10-15T08:31:00Z', 'ben'],
    [8, '2026-10-16T09:02:00Z', 'ida'],
  ] as const)
    head = await keepVersion(database, unbounded, {
      personId: id(by),
      bytes: Buffer.from(docx(inspection('LK07', 'Gate paddles', '2026-10-14', stage))),
      reason: 'saved',
      key: uuidOf(`paddles ${stage}`),
      at: new Date(at),
      target: { fileId: head.file.id, baseId: head.version.id },
    })

  // Older files that do not follow, so that there is something to put right.
  const old = await folder(waterways, 'Inspections', 'Older')
  for (const [name, lock, subject, day] of [
    ['inspection lock 4 final.docx', 'LK04', 'Upper gate', '2025-02-11'],
    ['Lock  5 inspection 12.03.25.docx', 'LK05', 'Chamber', '2025-03-12'],
    ['LK02 inspection FINAL new.docx', 'LK02', 'Tail silt', '2025-04-08'],
    ['Insp LK01 march.docx', 'LK01', 'Quoin stones', '2025-03-19'],
    ['lk03_2025-6-1_inspection.docx', 'LK03', 'Bollards', '2025-06-01'],
    ['Copy of inspection lock 8.docx', 'LK08', 'Chamber', '2025-07-11'],
    ['2025.04.22 LK06 Inspection Balance beam.docx', 'LK06', 'Balance beam', '2025-04-22'],
    ['23.05.2025_LK07_Inspection_Gate paddles.docx', 'LK07', 'Gate paddles', '2025-05-23'],
    ['LK02 Inspection 30.06.2025 Lower gate.docx', 'LK02', 'Lower gate', '2025-06-30'],
    ['2025-07-15  LK03 Inspection Chamber.docx', 'LK03', 'Chamber', '2025-07-15'],
    ['2025-07-15_LK03_Inspection_Chamber (2).docx', 'LK03', 'Chamber', '2025-07-16'],
    ['2025-08-19_LK99_Inspection_Chamber.docx', 'LK06', 'Chamber', '2025-08-19'],
    ['Notes.docx', 'LK01', 'Notes', '2025-09-02'],
  ] as const)
    await keep(waterways, old, name, docx(inspection(lock, subject, day)), 'ida', `${day}T10:00:00Z`, 'brought in')
  // From a time when nothing checked names: today this one is refused, so it is written past the check.
  const colon = 'Notice: LK06 lower gate 12 May 2025.docx'
  if (!(await database.manager.existsBy(EntryRow, { name: colon }))) {
    const { file } = await keep(
      waterways,
      await folder(waterways, 'Notices', 'Older'),
      colon.replace(':', ' -'),
      docx(notice('LK06', '2 June', '6 June 2025', 'The lower gate is caulked.')),
      'ben',
      '2025-05-12T09:30:00Z',
      'brought in',
    )
    await database.manager.update(EntryRow, { id: file.id }, { name: colon, nameKey: nameKey(colon) })
  }
  const notices = await folder(waterways, 'Notices', '2026')
  const noticesAt = (lock: string) => folder(waterways, 'Notices', '2026', lock)
  await keep(
    waterways,
    await noticesAt('LK07'),
    '2026-11-03_LK07_Notice_Gate-paddles.docx',
    docx(notice('LK07', '16 November', '21 November 2026', 'The gate paddles are renewed.')),
    'ida',
    '2026-11-03T11:15:00Z',
  )
  await keep(
    waterways,
    await noticesAt('LK03'),
    '2026-09-21_LK03_Notice_Balance-beam.docx',
    docx(notice('LK03', '5 October', '9 October 2026', 'A balance beam is replaced.')),
    'ida',
    '2026-09-21T09:40:00Z',
  )
  await keep(
    waterways,
    notices,
    'Stoppage - LK05 - November (old).odt',
    odt(['Stoppage at LK05', 'Closed for dredging, 3 to 7 November 2025.']),
    'ben',
    '2025-10-20T13:00:00Z',
    'brought in',
  )
  const water = await folder(waterways, 'Water', '2026')
  await keep(
    waterways,
    water,
    '2026-10-31_Levels_Autumn.ods',
    ods(levels()),
    'ben',
    '2026-10-31T16:30:00Z',
    'brought in',
  )
  await keep(
    waterways,
    water,
    '2026-10-31_Levels_Autumn.csv',
    new TextEncoder().encode(
      levels()
        .map((row) => row.join(','))
        .join('\r\n'),
    ),
    'ben',
    '2026-10-31T16:32:00Z',
    'brought in',
  )
  await keep(waterways, water, '2026-11-16_Lockages_Ledger.xlsx', xlsx(lockages(900)), 'ben', '2026-11-16T08:05:00Z')

  const budgets = await folder(finance, 'Budgets', '2026')
  let plan = await keep(
    finance,
    budgets,
    '2026_Maintenance_Budget.xlsx',
    xlsx(budget(1)),
    'ben',
    '2026-01-12T09:00:00Z',
  )
  const labelled: Version[] = []
  // Forty-one versions over the year, in bursts.
  for (let version = 2; version <= 41; version++) {
    const day = new Date(Date.UTC(2026, 0, 12 + Math.floor(version * 7.4), 8 + (version % 9), (version * 13) % 60))
    plan = await keepVersion(database, unbounded, {
      personId: id(version % 5 ? 'ben' : 'priya'),
      bytes: Buffer.from(xlsx(budget(version))),
      reason: 'saved',
      key: uuidOf(`budget ${version}`),
      at: day,
      target: { fileId: plan.file.id, baseId: plan.version.id },
    })
    const label = { 11: 'As approved', 30: 'Autumn revision' }[version]
    if (label) labelled.push(plan.version)
    if (label) await labelVersion(database.manager, id('priya'), plan.version.id, label)
  }
  const [approved, revised] = labelled as [Version, Version]
  await seedSent(database, id('ben'), uuidOf, [
    {
      version: approved,
      name: '2026_Maintenance_Budget.ods',
      type: 'ods',
      words: 'The budget as the trustees approved it. Your office opens this type.',
      at: '2026-04-07T10:20:00Z',
      to: ['nell.harker@assessors.example'],
    },
    {
      version: revised,
      name: '2026_Maintenance_Budget.xlsx',
      type: null,
      words: 'The autumn revision, for the board.',
      at: '2026-09-03T14:05:00Z',
      to: ['board@merrowdale.example', 'clerk@dale-council.example'],
    },
  ])
  const tenders = await folder(finance, 'Tenders', '2026')
  await keep(
    finance,
    tenders,
    '2026-10-02_LK07_Tender_Gate-paddles.docx',
    docx(letter('To the firms on the list', 'Renewal of the gate paddles at LK07')),
    'ben',
    '2026-10-02T15:10:00Z',
  )
  // What a firm sent, as another program wrote it.
  for (const [name, bytes] of [
    ['2026-11-09_LK07_Tender_Offer-of-Wherry.docx', await offer()],
    ['2026-11-09_LK07_Tender_Prices-of-Wherry.xlsx', await offerPrices()],
  ] as const)
    await keep(finance, tenders, name, bytes, 'ben', '2026-11-10T09:20:00Z', 'brought in')

  const meetings = await folder(office, 'Minutes', '2026')
  let minuted = await keep(
    office,
    meetings,
    '2026-10-19_Minutes_Works-meeting.docx',
    docx(
      minutes('19 October 2026', [
        'LK07 closes from 16 to 21 November.',
        'The autumn levels are published.',
        'Volunteers bed the bollard at LK07.',
      ]),
    ),
    'priya',
    '2026-10-19T12:00:00Z',
  )
  // What was decided was changed again, and nobody remembers when.
  for (const [index, [points, by, at]] of (
    [
      [
        [
          'LK07 closes from 16 to 21 November.',
          'The autumn levels are published.',
          'Volunteers bed the bollard at LK07.',
          'The paddles are made of greenheart, for at most 4,960.',
        ],
        'priya',
        '2026-10-21T09:15:00Z',
      ],
      [
        [
          'LK07 closes from 16 to 21 November.',
          'The autumn levels are published.',
          'The workshop beds the bollard at LK07.',
          'The paddles are made of greenheart, for at most 4,960.',
        ],
        'ida',
        '2026-10-28T13:40:00Z',
      ],
      [
        [
          'LK07 closes from 16 to 21 November.',
          'The autumn levels are published.',
          'The workshop beds the bollard at LK07.',
          'The paddles are made of oak.',
        ],
        'ben',
        '2026-11-05T10:05:00Z',
      ],
    ] as const
  ).entries())
    minuted = await keepVersion(database, unbounded, {
      personId: id(by),
      bytes: Buffer.from(docx(minutes('19 October 2026', [...points]))),
      reason: 'saved',
      key: uuidOf(`minutes ${index + 2}`),
      at: new Date(at),
      target: { fileId: minuted.file.id, baseId: minuted.version.id },
    })
  await keep(
    office,
    meetings,
    '2026-11-16_Minutes_Works-meeting.docx',
    docx(
      minutes('16 November 2026', [
        'The budget for dredging is spent; the rest waits for January.',
        'Names of files follow the convention from December.',
      ]),
    ),
    'priya',
    '2026-11-16T12:10:00Z',
  )
  await keep(
    office,
    null,
    'How files are named.docx',
    docx(
      doc(
        h(1, 'How files are named'),
        p('Date, lock or bridge, kind, subject, with underscores between them:'),
        p('2026-10-14_LK07_Inspection_Gate-paddles'),
        list(
          'Dates as year, month, day.',
          'Locks are LK01 to LK08, bridges BR01 to BR12.',
          'No “final”, no “copy”: versions are kept by themselves.',
        ),
      ),
    ),
    'priya',
    '2026-09-01T08:00:00Z',
  )

  const letters = await folder(office, 'Letters')
  for (const [index, [by, subject, at]] of (
    [
      ['PN', 'Towpath-closure', '2026-10-05T09:00:00Z'],
      ['IT', 'Volunteers-at-LK07', '2026-11-02T10:30:00Z'],
    ] as const
  ).entries())
    await keep(
      office,
      letters,
      `2026-00${index + 1}_${by}_${subject}.docx`,
      docx(letter('To whom it concerns', subject.replaceAll('-', ' '))),
      by === 'IT' ? 'ida' : 'priya',
      at,
    )
  await seedNaming(
    database,
    id('priya'),
    { waterways, finance, office },
    { budgets: await folder(finance, 'Budgets'), minutes: await folder(office, 'Minutes'), letters },
  )
  const form = await keep(
    waterways,
    await folder(waterways, 'Inspections', '2025'),
    '2025-01-08_Inspection_Form.docx',
    docx(inspectionForm()),
    'priya',
    '2025-01-08T09:00:00Z',
  )
  const trust = await database.manager.findOneByOrFail(ConventionRow, { shareId: waterways })
  if (!(await templatesFor(database.manager, id('priya'))).length)
    await addTemplate(database.manager, id('priya'), {
      versionId: form.version.id,
      name: 'Lock inspection',
      conventionId: trust.id,
      presets: { kind: 'Inspection' },
    })

  await database.manager.deleteAll(FileUseRow)
  for (const [handle, file, at] of [
    ['ida', head.file.id, '2026-11-20T08:00:00Z'],
    ['ben', plan.file.id, '2026-11-20T09:00:00Z'],
    ['priya', plan.file.id, '2026-11-19T09:00:00Z'],
  ] as const)
    await database.manager.insert(FileUseRow, { personId: id(handle), fileId: file, usedAt: new Date(at) })
  await interrupted(database, id('ida'), head)
}

/** Ida's unsaved sentences on the inspection at LK07, as a crash left them. */
async function interrupted(
  database: DataSource,
  personId: string,
  head: { file: { id: string }; version: { id: string } },
): Promise<void> {
  const draftId = uuidOf('interrupted draft')
  const begun = Date.parse('2026-11-20T15:41:00Z')
  let node = inspection('LK07', 'Gate paddles', '2026-10-14', 8)
  let beyond = nothingBeyond
  const words =
    ' The new paddles were measured on site: 612 mm by 488 mm, two of each hand. The supplier asks for a template of the culvert mouth before casting.'.match(
      / ?\S+/g,
    )!
  const records = words.map((word, index) => {
    const change = new Transform(node)
    change.insert(node.content.size - 1, node.type.schema.text(word))
    node = change.doc
    const edit = { steps: change.steps.map((step) => step.toJSON()) }
    beyond = countEdit(beyond, edit)
    return { seq: index + 1, at: begun + index * 900, edit }
  })
  const last = new Date(begun + records.length * 900).toISOString()
  await takePoint(database, personId, {
    heartbeat: {
      id: draftId,
      kind: 'document',
      deviceId: uuidOf('workshop computer'),
      deviceName: 'Chromium on the workshop computer',
      bornAt: new Date(begun).toISOString(),
      baseVersionId: head.version.id,
      fileId: head.file.id,
      headVersionId: head.version.id,
      savedSeq: 0,
      journalSeq: records.length,
      lastEditAt: last,
      opening: 'Gate paddles at LK07',
      beyond,
      pageSilentMs: 0,
      live: false,
      sender: { epoch: 1, writerId: uuidOf('workshop page') },
    },
    after: { seq: 0, digest: genesis(head.version.id) },
    lines: records.map(recordText),
  })
  await database.manager.update(RecoveryPointRow, { draftId }, { at: new Date(last) })
  const at = new Date(last)
  await database.manager.update(DraftRow, { id: draftId }, { answeredAt: at, pageAnsweredAt: at, pointAt: at })
}
