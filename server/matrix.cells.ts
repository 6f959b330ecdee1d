// Every endpoint of the contract by everybody who might ask. What each may do is said in the contract (`right`); a new
// endpoint without a right does not compile, and one without an example here neither. Carried out by the test beside
// it, and by `npm run bench doors`.

import { randomUUID } from 'node:crypto'
import {
  type Access,
  type Api,
  api,
  type Convention,
  type Endpoint,
  type Entry,
  forGuests,
  type MadeLink,
  noChoices,
  type OpenedLink,
  type RightsNews,
  type Saved,
  type Template,
  usualPlan,
} from '../core/contract'
import { writeDocx } from '../core/formats/docx/write'
import { writeXlsx } from '../core/formats/xlsx/write'
import { addPerson } from './accounts/service'
import { CopySiteRow } from './copies/entity'
import { setPlan } from './copies/plans'
import { doc, p } from './demo/papers'
import { MailRow } from './mail/entity'
import { usualAsk } from './paper/testing'
import { PrinterRow, PrintJobRow } from './printing/entity'
import { addMember } from './shares/service'
import { password, signInAs, signOfLife, type TestOffice, withCookies } from './testing'

const roles = [
  'nobody',
  'guest by link',
  'guest who writes',
  'outsider',
  'former member',
  'administrator outside',
  'viewer',
  'editor',
  'manager',
] as const
type Role = (typeof roles)[number]
type Ask = (path: string, init?: RequestInit) => Promise<Response>

let office: TestOffice
const asks = {} as Record<Role, Ask>
async function setUp(given: TestOffice): Promise<void> {
  office = given
  const { manager } = office.database
  for (const [handle, isOne] of [
    ['former', false],
    ['admin', true],
  ] as const)
    office.people[handle as 'ben'] = (
      await addPerson(manager, { handle, name: handle, password, administrator: isOne })
    ).id
  const former = office.people['former' as 'ben']
  await addMember(manager, office.share, former, 'manage')
  for (const [role, handle] of [
    ['outsider', 'ben'],
    ['former member', 'former'],
    ['administrator outside', 'admin'],
    ['viewer', 'tomas'],
    ['editor', 'ida'],
    ['manager', 'priya'],
  ] as const)
    asks[role] = (await signInAs(office, handle)).ask
  asks.nobody = (path, init) => fetch(office.url + path, init)
  asks['guest by link'] = withCookies(office.url)
  asks['guest who writes'] = withCookies(office.url)
  const { token } = await linkTo((await aFile()).file.id, 'edit')
  const guest = asks['guest who writes']
  const { id } = await made<OpenedLink>(guest('/api/linked', json({ token })))
  await made(guest(`/api/linked/${id}/guest`, json({ name: 'Nell Harker' })))
  // Whoever was a member has used what is there.
  const { file } = await aFile()
  await asks['former member'](`/api/files/${file.id}`)
  await office.database.query('delete from access_grant where person_id = $1', [former])
}

const json = (body: unknown, method = 'POST'): RequestInit => ({
  method,
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body),
})
const made = async <T>(answer: Promise<Response>): Promise<T> => {
  const response = await answer
  if (!response.ok) throw new Error(await response.text())
  return (await response.json()) as T
}
const paper = writeDocx(doc(p('Water level')))
const aFile = () =>
  made<Saved>(
    asks.manager(`/api/files?shareId=${office.share}&name=${randomUUID()}.docx&key=${randomUUID()}`, {
      method: 'POST',
      body: paper as BodyInit,
    }),
  )
const aListOfValues = () =>
  made<Saved>(
    asks.manager(`/api/files?shareId=${office.share}&name=${randomUUID()}.csv&key=${randomUUID()}`, {
      method: 'POST',
      body: 'Lock;Level\nLK07;1,50\n',
    }),
  )
const toSomebody = [{ address: 'nell.harker@assessors.example' }]
/** A message of the editor's that waits. */
const aMail = async (): Promise<string> => {
  const id = randomUUID()
  await office.database.manager.insert(MailRow, {
    id,
    messageId: `<${id}@office.example>`,
    kind: 'file',
    personId: office.people.ida,
    address: 'nell.harker@assessors.example',
    subject: 'Water level',
    body: Buffer.from('locked'),
    nextAt: new Date(Date.now() + 86_400_000),
  })
  return id
}
const workbookBytes = writeXlsx({ sheets: [{ name: 'Levels', rows: [[{ value: 1 }]], widths: {} }] })
const aWorkbook = () =>
  made<Saved>(
    asks.manager(`/api/files?shareId=${office.share}&name=${randomUUID()}.xlsx&key=${randomUUID()}`, {
      method: 'POST',
      body: Buffer.from(workbookBytes),
    }),
  )
const someLists = () => ({
  lists: [{ id: randomUUID(), sheet: 'Levels', name: `${randomUUID()}.csv` }],
  guarded: false,
})
const aSideList = async () => {
  const asked = someLists()
  const { id } = (await aWorkbook()).file
  await made(asks.manager(`/api/files/${id}/side-lists`, json({ ...asked, inStep: true })))
  return asked.lists[0]!.id
}
const aFolder = () =>
  made<Entry>(asks.manager('/api/folders', json({ shareId: office.share, folderId: null, name: randomUUID() })))
const rules = {
  parts: [
    {
      id: 'w',
      kind: 'words',
      label: 'Subject',
      separator: '',
      optional: false,
      letters: 'as typed',
      longest: 40,
      symbols: 'any',
      spaces: '-',
    },
  ],
  folders: [],
}
const aConvention = async () =>
  made<Convention>(
    asks.manager(
      '/api/conventions',
      json({ shareId: office.share, folderId: (await aFolder()).id, name: 'Plain', rules }),
    ),
  )
const aList = () =>
  made<{ id: string; revision: number }>(
    asks.manager('/api/lists', json({ shareId: office.share, name: randomUUID(), values: [] })),
  )
/** A drive that its page has only begun with. */
async function anIntake(): Promise<string> {
  const { id } = await made<{ id: string }>(
    asks.manager(
      `/api/shares/${office.share}/intakes`,
      json({ id: randomUUID(), folderId: null, source: 'browser', root: 'Drive' })!,
    ),
  )
  return id
}
/** A place for copies that is not there, with a plan for the share. */
const aSite = async () => {
  const site = { id: randomUUID(), kind: 'folder', name: 'Drive', folder: `/nowhere/${randomUUID()}` } as const
  await office.database.manager.insert(CopySiteRow, site)
  await setPlan(office.database.manager, office.people.priya, {
    siteId: site.id,
    shareId: office.share,
    plan: usualPlan,
  })
  return { siteId: site.id, shareId: office.share }
}
const aHandle = () => `p-${randomUUID()}`
const aPerson = async () =>
  (
    await made<{ id: string }[]>(
      asks['administrator outside']('/api/people', json({ people: [{ handle: aHandle(), name: 'Somebody' }] })),
    )
  )[0]!.id
const aGroup = async () =>
  (await made<{ id: string }>(asks['administrator outside']('/api/groups', json({ name: randomUUID(), members: [] }))))
    .id
const linkTo = async (id: string, role = 'view') =>
  made<MadeLink>(
    asks.manager(
      `/api/access/${id}/links`,
      json({
        name: 'Somebody',
        role,
        until: null,
        password: null,
        uses: null,
        versionId: null,
        download: true,
      }),
    ),
  )
/** A link that the guest has opened. */
async function opened(id: string): Promise<string> {
  const { token } = await linkTo(id)
  return (await made<OpenedLink>(asks['guest by link']('/api/linked', json({ token })))).id
}
const aTemplate = async () =>
  made<Template>(
    asks.manager(
      '/api/templates',
      json({ versionId: (await aFile()).version.id, name: randomUUID(), conventionId: null, presets: {} }),
    ),
  )
/** An open draft of the editor's, of a file in the share. */
const aDraft = async () => {
  const { file, version } = await aFile()
  const id = randomUUID()
  const more = { fileId: file.id, baseVersionId: version.id }
  await made(asks.editor(`/api/drafts/${id}`, json(signOfLife(id, more), 'PUT')))
  return { id, more }
}
const anAct = async () => {
  const { file } = await aFile()
  const id = randomUUID()
  await made(
    asks.editor('/api/acts', json({ id, what: 'rename', changes: [{ id: file.id, name: `${randomUUID()}.docx` }] })),
  )
  return id
}
const rule = { folderId: null, rule: { all: 30, hourly: 60, daily: 90, weekly: 120, monthly: null } }
const drill = {
  passed: true,
  charactersTyped: 1,
  typedMs: 1,
  interval: 5,
  device: { charactersLost: 0, lostMs: 0, backMs: 0, promisedMs: 100 },
  sharedStorage: null,
  faults: [],
}
const likes = {
  paper: noChoices,
  standard: 'plain',
  range: '',
  which: 'all',
  reverse: false,
  copies: 1,
  collate: true,
  fold: null,
  perSide: 1,
  order: 'rows',
  frames: false,
  sides: 'one',
  colour: true,
  printerId: null,
  allSheets: false,
}
/** A printer that nobody answers for. */
async function aPrinter(): Promise<string> {
  const id = randomUUID()
  await office.database.manager.insert(PrinterRow, {
    id,
    name: id,
    address: 'ipp://127.0.0.1:1/ipp/print',
    addedBy: office.people.priya,
  })
  return id
}
const aPrint = async (more: object = {}) => ({
  key: randomUUID(),
  printerId: await aPrinter(),
  fileId: null,
  versionId: null,
  unsaved: true,
  name: 'Levels',
  pdf: Buffer.from('%PDF-1.7').toString('base64'),
  backs: null,
  pages: 1,
  faces: 1,
  copies: 1,
  allCopies: 1,
  collate: true,
  turn: 'one',
  size: null,
  landscape: false,
  colour: true,
  ...more,
})
/** Of the editor, over or not. */
async function aJob(isOver: boolean): Promise<string> {
  const { key, printerId } = await aPrint()
  await office.database.manager.insert(PrintJobRow, {
    id: key,
    printerId,
    personId: office.people.ida,
    unsaved: true,
    name: 'Levels',
    pages: 1,
    faces: 1,
    copies: 1,
    allCopies: 1,
    collate: true,
    turn: 'one',
    landscape: false,
    colour: true,
    ...(isOver
      ? { state: 'done', document: Buffer.from('%PDF-1.7'), backs: Buffer.from('%PDF-1.7') }
      : { nextAt: new Date(Date.now() + 3600_000) }),
  })
  return key
}
type Asked = [path: string, init?: RequestInit]

/** A request that is as it should be, on something made for it. */
const examples: Record<keyof Api, () => Promise<Asked> | Asked> = {
  health: () => ['/api/health'],
  session: () => ['/api/session'],
  signIn: () => ['/api/session', json({ handle: 'ida', password })],
  signOut: () => ['/api/session', { method: 'DELETE' }],
  firstAdministrator: () => [
    '/api/first-administrator',
    json({ handle: 'first', name: 'First', password, share: 'Office' }),
  ],
  useCode: () => ['/api/code', json({ handle: aHandle(), code: 'no code', password: 'windlass and sluice' })],
  secondFactor: () => ['/api/second-factor'],
  beginSecondFactor: () => ['/api/second-factor', json({ password: 'not it' })],
  confirmSecondFactor: () => ['/api/second-factor', json({ second: '000000' }, 'PUT')],
  renewCodes: () => ['/api/second-factor/codes', json({ password: 'not it' })],
  endSecondFactor: () => ['/api/second-factor/end', json({ password: 'not it' })],
  endSecondFactorOf: async () => [`/api/people/${await aPerson()}/second-factor`, { method: 'DELETE' }],
  changeMyName: () => ['/api/me', json({ name: 'Somebody Else' }, 'PUT')],
  directory: () => ['/api/directory'],
  people: () => ['/api/people'],
  addPeople: () => ['/api/people', json({ people: [{ handle: aHandle(), name: 'Somebody' }] })],
  changePerson: async () => [
    `/api/people/${await aPerson()}`,
    json({ handle: aHandle(), name: 'Else', administrator: false }, 'PUT'),
  ],
  closePerson: async () => [`/api/people/${await aPerson()}/close`, json({ handTo: null })],
  reopenPerson: async () => [`/api/people/${await aPerson()}/reopen`, { method: 'POST' }],
  giveCode: async () => [`/api/people/${await aPerson()}/code`, json({})],
  sessionsOfPerson: async () => [`/api/people/${await aPerson()}/sessions`],
  endSessionsOfPerson: async () => [`/api/people/${await aPerson()}/sessions`, { method: 'DELETE' }],
  reachOfPerson: async () => [`/api/people/${await aPerson()}/reach`],
  groups: () => ['/api/groups'],
  newGroup: () => ['/api/groups', json({ name: randomUUID(), members: [] })],
  changeGroup: async () => [`/api/groups/${await aGroup()}`, json({ name: randomUUID(), members: [] }, 'PUT')],
  endGroup: async () => [`/api/groups/${await aGroup()}`, { method: 'DELETE' }],
  newShare: () => ['/api/shares', json({ name: randomUUID(), description: '' })],
  changeShare: () => [`/api/shares/${office.share}`, json({ name: 'Waterways', description: 'Locks' }, 'PUT')],
  archiveShare: () => [`/api/shares/${office.share}/archived`, json({ archived: false }, 'PUT')],
  access: async () => [`/api/access/${(await aFile()).file.id}`],
  grant: async () => [
    `/api/access/${(await aFile()).file.id}/grants`,
    json({ subject: { personId: await aPerson() }, role: 'edit', until: null }),
  ],
  endGrant: async () => {
    const { id } = (await aFile()).file
    const given = { subject: { personId: await aPerson() }, role: 'view', until: null }
    const { grants } = await made<Access>(asks.manager(`/api/access/${id}/grants`, json(given)))
    return [`/api/access/${id}/grants/${grants.at(-1)!.id}`, { method: 'DELETE' }]
  },
  // Of one who only looks it would be asked for; of the others it is refused as what they may do.
  askForMore: async () => [`/api/access/${(await aFile()).file.id}/requests`, json({ role: 'manage', words: '' })],
  answerRequest: async () => {
    const { id } = (await aFile()).file
    await asks.viewer(`/api/access/${id}/requests`, json({ role: 'edit', words: 'For the survey' }))
    const { asked } = await made<RightsNews>(asks.manager('/api/rights-news'))
    return [`/api/access/requests/${asked.find(({ of }) => of.id === id)!.id}`, json({ give: false })]
  },
  watch: async () => [`/api/access/${(await aFile()).file.id}/watch`, json({ on: true }, 'PUT')],
  watched: () => ['/api/watched'],
  seeWatched: () => [`/api/watched/${randomUUID()}/seen`, json({ at: new Date().toISOString() })],
  links: async () => [`/api/access/${(await aFile()).file.id}/links`],
  newLink: async () => [
    `/api/access/${(await aFolder()).id}/links`,
    json({ name: 'Somebody', role: 'edit', until: null, password: null, uses: 3, versionId: null, download: false }),
  ],
  endLink: async () => [`/api/links/${(await linkTo((await aFile()).file.id)).link.id}`, { method: 'DELETE' }],
  linkUses: async () => [`/api/links/${(await linkTo((await aFile()).file.id)).link.id}/uses`],
  onPaper: async () => [
    '/api/paper',
    json({
      ...usualAsk,
      what: { kind: 'document', json: doc(p('Water level')).toJSON(), versionId: null },
    }),
  ],
  pageBreaks: () => {
    const { name, number, day, language } = usualAsk
    const what = { kind: 'document', json: doc(p('Water level')).toJSON(), versionId: null }
    return ['/api/paper/breaks', json({ what, name, number, day, language })]
  },
  printers: () => ['/api/printers'],
  addPrinter: () => ['/api/printers', json({ name: randomUUID(), address: 'ipp://127.0.0.1:1/ipp/print' })],
  removePrinter: async () => [`/api/printers/${await aPrinter()}`, { method: 'DELETE' }],
  print: async () => ['/api/printing', json(await aPrint())],
  printJobs: () => ['/api/printing'],
  cancelPrint: async () => [`/api/printing/${await aJob(false)}`, { method: 'DELETE' }],
  printAgain: async () => [`/api/printing/${await aJob(true)}/again`, { method: 'POST' }],
  printBacks: async () => [`/api/printing/${await aJob(true)}/backs`, { method: 'POST' }],
  printed: async () => [`/api/files/${(await aFile()).file.id}/printed`],
  paperLikes: () => ['/api/paper/likes'],
  keepPaperLikes: () => ['/api/paper/likes', json({ about: 'last', likes }, 'PUT')],
  forgetPaperLikes: () => ['/api/paper/likes?about=last', { method: 'DELETE' }],
  asType: async () => [`/api/versions/${(await aFile()).version.id}/as?type=txt`],
  sendFile: async () => {
    const { file, version } = await aFile()
    return [
      `/api/files/${file.id}/sent`,
      json({ key: randomUUID(), to: toSomebody, words: '', versionIds: [version.id], type: null }),
    ]
  },
  sendLink: async () => [
    `/api/access/${(await aFile()).file.id}/links/sent`,
    json({
      key: randomUUID(),
      to: toSomebody,
      words: '',
      link: { role: 'view', until: null, password: null, uses: null, versionId: null, download: true },
    }),
  ],
  sent: async () => [`/api/entries/${(await aFile()).file.id}/sent`],
  tryMailAgain: async () => [`/api/mail/${await aMail()}/again`, { method: 'POST' }],
  withdrawMail: async () => [`/api/mail/${await aMail()}`, { method: 'DELETE' }],
  undelivered: () => ['/api/undelivered'],
  seeUndelivered: async () => [`/api/mail/${await aMail()}/seen`, { method: 'POST' }],
  mailNow: () => ['/api/mail'],
  openLink: () => ['/api/linked', json({ token: randomUUID() })],
  linkedFolder: async () => {
    const { id } = await aFolder()
    return [`/api/linked/${await opened(id)}/folders/${id}`]
  },
  comeToWrite: async () => [
    `/api/linked/${await opened((await aFile()).file.id)}/guest`,
    json({ name: 'Nell Harker' }),
  ],
  linkedPage: async () => {
    const { id } = (await aFile()).file
    return [`/api/linked/${await opened(id)}/files/${id}/page`]
  },
  linkedBytes: async () => {
    const { id } = (await aFile()).file
    return [`/api/linked/${await opened(id)}/files/${id}/bytes`]
  },
  rightsNews: () => ['/api/rights-news'],
  seeRightsNews: () => ['/api/rights-news/seen', json({ given: [], refused: [] })],
  leave: async () => [`/api/access/${(await aFile()).file.id}/leave`, { method: 'POST' }],
  setOwnRights: async () => [`/api/access/${(await aFile()).file.id}/rights`, json({ from: 'above and here' }, 'PUT')],
  settings: () => ['/api/settings'],
  setSettings: () => ['/api/settings', json({}, 'PUT')],
  sessions: () => ['/api/sessions'],
  endSession: () => [`/api/sessions/${randomUUID()}`, { method: 'DELETE' }],
  endOtherSessions: () => ['/api/sessions/end-others', { method: 'POST' }],
  changePassword: () => ['/api/password', json({ present: 'not it', next: 'windlass and sluice' })],
  shares: () => ['/api/shares'],
  place: () => [`/api/shares/${office.share}/entries`],
  placeNames: () => [`/api/shares/${office.share}/names`],
  shareDefaults: () => [`/api/shares/${office.share}/defaults`, json({}, 'PUT')],
  recentPlaces: () => ['/api/recent-places'],
  removed: () => [`/api/shares/${office.share}/removed`],
  act: async () => [
    '/api/acts',
    json({
      id: randomUUID(),
      what: 'rename',
      changes: [{ id: (await aFile()).file.id, name: `${randomUUID()}.docx` }],
    }),
  ],
  undo: async () => [`/api/acts/${await anAct()}/undo`, { method: 'POST' }],
  search: () => ['/api/search?q=water'],
  searchPast: () => ['/api/past?q=water'],
  naming: () => [`/api/shares/${office.share}/naming`],
  newList: () => ['/api/lists', json({ shareId: office.share, name: randomUUID(), values: [] })],
  changeList: async () => {
    const { id, revision } = await aList()
    return [`/api/lists/${id}`, json({ name: randomUUID(), values: [], revision }, 'PUT')]
  },
  newConvention: async () => [
    '/api/conventions',
    json({ shareId: office.share, folderId: (await aFolder()).id, name: 'Plain', rules }),
  ],
  changeConvention: async () => {
    const { id, number } = await aConvention()
    return [`/api/conventions/${id}`, json({ name: 'Plainer', rules, number }, 'PUT')]
  },
  endConvention: async () => [`/api/conventions/${(await aConvention()).id}/end`, { method: 'POST' }],
  nextNumber: async () => {
    const { id, folderId } = await aConvention()
    return [`/api/conventions/${id}/next-number`, json({ values: {}, folderId })]
  },
  usedValues: async () => [`/api/conventions/${(await aConvention()).id}/used`],
  auditMaterial: () => [`/api/shares/${office.share}/audit`],
  noteAudit: () => [`/api/shares/${office.share}/audit`, json({ names: 3, astray: 1 }, 'PUT')],
  audits: () => ['/api/audits'],
  templates: () => ['/api/templates'],
  newTemplate: async () => [
    '/api/templates',
    json({ versionId: (await aFile()).version.id, name: randomUUID(), conventionId: null, presets: {} }),
  ],
  removeTemplate: async () => [`/api/templates/${(await aTemplate()).id}`, { method: 'DELETE' }],
  newFolder: () => ['/api/folders', json({ shareId: office.share, folderId: null, name: randomUUID() })],
  recent: () => ['/api/recent'],
  changedByOthers: () => ['/api/changed-by-others'],
  file: async () => [`/api/files/${(await aFile()).file.id}`],
  versions: async () => [`/api/files/${(await aFile()).file.id}/versions`],
  presence: async () => [
    `/api/files/${(await aFile()).file.id}/presence`,
    json({ pageId: randomUUID(), leaving: false }, 'PUT'),
  ],
  newFile: () => [
    `/api/files?shareId=${office.share}&name=${randomUUID()}.txt&key=${randomUUID()}`,
    { method: 'POST', body: 'x' },
  ],
  nextVersion: async () => {
    const { file, version } = await aFile()
    return [`/api/files/${file.id}/versions?baseId=${version.id}&key=${randomUUID()}`, { method: 'POST', body: 'x' }]
  },
  restore: async () => {
    const { version } = await aFile()
    return [`/api/versions/${version.id}/restore`, json({ key: randomUUID(), baseId: version.id })]
  },
  bytes: async () => [`/api/versions/${(await aFile()).version.id}/bytes`],
  setOrigin: async () => {
    const { version } = await aFile()
    const copy = await made<Saved>(
      asks.manager(
        `/api/files?shareId=${office.share}&name=${randomUUID()}.docx&key=${randomUUID()}&originId=${version.id}&reason=copied`,
        { method: 'POST', body: paper as BodyInit },
      ),
    )
    return [`/api/files/${copy.file.id}/origin`, json({ versionId: version.id }, 'PUT')]
  },
  sideLists: async () => [`/api/files/${(await aWorkbook()).file.id}/side-lists`],
  newSideLists: async () => {
    const { id } = (await aWorkbook()).file
    return [`/api/files/${id}/side-lists`, json({ ...someLists(), inStep: false })]
  },
  newSidePdf: async () => [
    `/api/files/${(await aWorkbook()).file.id}/side-pdf`,
    json({
      id: randomUUID(),
      name: `${randomUUID()}.pdf`,
      inStep: true,
      standard: 'plain',
      choices: noChoices,
      language: 'en',
    }),
  ],
  endSideList: async () => [`/api/side-lists/${await aSideList()}`, { method: 'DELETE' }],
  setReading: async () => [`/api/files/${(await aListOfValues()).file.id}/reading`, json({ separator: ';' }, 'PUT')],
  labelVersion: async () => [`/api/versions/${(await aFile()).version.id}/label`, json({ label: 'Approved' }, 'PUT')],
  trace: async () => [`/api/versions/${(await aFile()).version.id}/trace`, json({ kind: 'paragraph', at: 0 })],
  intakes: () => [`/api/shares/${office.share}/intakes`],
  serverFolders: () => [`/api/shares/${office.share}/intakes/folders?path=/nowhere`],
  beginIntake: () => [
    `/api/shares/${office.share}/intakes`,
    json({ id: randomUUID(), folderId: null, source: 'browser', root: 'Drive' }),
  ],
  intake: async () => [`/api/shares/${office.share}/intakes/${await anIntake()}`],
  addDriveFiles: async () => [
    `/api/shares/${office.share}/intakes/${await anIntake()}/files`,
    json({ files: [], last: false }),
  ],
  intakeSeries: async () => [`/api/shares/${office.share}/intakes/${await anIntake()}/series`],
  decideIntake: async () => [
    `/api/shares/${office.share}/intakes/${await anIntake()}/series`,
    json({ series: [] }, 'PUT'),
  ],
  takeIntake: async () => [`/api/shares/${office.share}/intakes/${await anIntake()}/take`, { method: 'POST' }],
  stopIntake: async () => [`/api/shares/${office.share}/intakes/${await anIntake()}/stop`, { method: 'POST' }],
  takeDriveFile: async () => [
    `/api/shares/${office.share}/intakes/${await anIntake()}/take/file?no=0`,
    { method: 'POST', body: 'x' },
  ],
  forgetIntake: async () => [`/api/shares/${office.share}/intakes/${await anIntake()}`, { method: 'DELETE' }],
  copies: () => ['/api/copies'],
  copyAlarms: () => ['/api/copies/alarms'],
  setCopyPlan: async () => ['/api/copies/plans', json({ ...(await aSite()), plan: usualPlan }, 'PUT')],
  plannableFolders: () => [`/api/copies/shares/${office.share}/folders`],
  previewCopyPlan: async () => ['/api/copies/plans/preview', json({ ...(await aSite()), plan: usualPlan })],
  askForCopy: async () => ['/api/copies/ask', json({ ...(await aSite()), check: false })],
  addCopyDrive: () => ['/api/copies/drives', json({ name: 'No drive' })],
  seeMended: () => ['/api/copies/mended/seen', json({ sha256s: ['0'.repeat(64)] })],
  filesInCopy: async () => [`/api/shares/${office.share}/copies/${(await aSite()).siteId}/files`],
  bringFiles: async () => [
    `/api/shares/${office.share}/copies/bring`,
    json({ siteId: (await aSite()).siteId, fileIds: [randomUUID()], key: randomUUID() }),
  ],
  lookAtCopyHost: () => ['/api/copies/hosts/look', json({ address: 'sftp://127.0.0.1/copies' })],
  addCopyHost: () => [
    '/api/copies/hosts',
    json({ address: 'sftp://127.0.0.1/copies', account: 'copies', secret: 'secret', key: null }),
  ],
  signInAtCopySite: async () => [
    `/api/copies/sites/${(await aSite()).siteId}/sign-in`,
    json({ account: 'copies', secret: 'secret', key: null }, 'PUT'),
  ],
  askForTrial: async () => [`/api/copies/sites/${(await aSite()).siteId}/trial`, { method: 'POST' }],
  forgetCopySite: async () => [`/api/copies/sites/${(await aSite()).siteId}`, { method: 'DELETE' }],
  nameCopySite: async () => [`/api/copies/sites/${(await aSite()).siteId}`, json({ name: 'Another drive' }, 'PUT')],
  seeFindings: () => ['/api/copies/findings/seen', json({ ids: [randomUUID()] })],
  placeChanges: () => [`/api/shares/${office.share}/changes`],
  moment: () => [`/api/shares/${office.share}/moment?at=${new Date().toISOString()}`],
  toMoment: async () => {
    const { file } = await aFile()
    const before = new Date(Date.parse(file.head!.at) - 1).toISOString()
    const asked = { id: randomUUID(), at: before, folderId: null, entries: [file.id] }
    return [`/api/shares/${office.share}/moment`, json(asked)]
  },
  retention: () => [`/api/shares/${office.share}/retention`],
  setRetention: () => [`/api/shares/${office.share}/retention`, json(rule, 'PUT')],
  previewRetention: () => [`/api/shares/${office.share}/retention/preview`, json(rule)],
  hold: async () => [`/api/entries/${(await aFile()).file.id}/hold`, json({ why: 'An inquiry' }, 'PUT')],
  drafts: () => ['/api/drafts'],
  draft: async () => [`/api/drafts/${(await aDraft()).id}`],
  points: async () => [`/api/drafts/${(await aDraft()).id}/points`],
  heartbeat: async () => {
    const { id, more } = await aDraft()
    return [`/api/drafts/${id}`, json(signOfLife(id, more), 'PUT')]
  },
  point: async () => {
    const { id, more } = await aDraft()
    return [
      `/api/drafts/${id}/points`,
      json({ heartbeat: signOfLife(id, more), records: [{ seq: 1, at: 1, edit: {} }] }),
    ]
  },
  takeOver: async () => [
    `/api/drafts/${(await aDraft()).id}/writer`,
    json({ from: 0, writerId: randomUUID(), deviceId: randomUUID(), deviceName: 'test' }),
  ],
  askForPoint: async () => [`/api/drafts/${(await aDraft()).id}/ask`, { method: 'POST' }],
  noteSafeCopy: async () => [`/api/drafts/${(await aDraft()).id}/safe-copy`, { method: 'POST' }],
  room: () => ['/api/drafts/room'],
  activity: () => ['/api/activity'],
  protection: () => ['/api/protection?kind=document'],
  setProtection: () => ['/api/protection', json({ kind: 'document', interval: 30, continuous: null }, 'PUT')],
  managedProtection: () => ['/api/protection/places'],
  setPlaceProtection: () => [
    '/api/protection/places',
    json({ shareId: office.share, folderId: null, interval: 30, continuous: null, least: null, most: null }, 'PUT'),
  ],
  drills: () => ['/api/drills'],
  newDrill: () => [
    '/api/drills',
    json({ id: randomUUID(), deviceId: randomUUID(), deviceName: 'test', report: drill }),
  ],
  endDraft: async () => [`/api/drafts/${(await aDraft()).id}/end`, json({ state: 'closed' })],
  auditLog: () => ['/api/audit-log'],
  events: () => ['/api/events', { method: 'HEAD' }],
}

/** What is refused for another reason than who asks: the endpoint is reached, and says so. */
const refusedAnyway: Partial<Record<keyof Api, number>> = {
  firstAdministrator: 403,
  useCode: 403,
  openLink: 404,
  // Nobody answers there.
  addPrinter: 400,
  // No mail is set up there.
  sendFile: 400,
  sendLink: 400,
  // The link is for looking only; who signed in by another would have come as somebody else.
  comeToWrite: 403,
  beginSecondFactor: 403,
  confirmSecondFactor: 404,
  renewCodes: 403,
  endSecondFactor: 403,
  // Nothing was given there to whoever asks themselves.
  leave: 404,
  endSession: 404,
  changePassword: 403,
  addCopyDrive: 404,
  lookAtCopyHost: 404,
  addCopyHost: 404,
  // The place is a folder of this computer.
  signInAtCopySite: 404,
  forgetCopySite: 404,
  // No folder of the server may be taken over, and nothing of the drive was read yet.
  serverFolders: 404,
  decideIntake: 400,
  takeIntake: 400,
  stopIntake: 400,
  takeDriveFile: 400,
  // It holds nothing yet, and is not there.
  filesInCopy: 404,
  bringFiles: 404,
  askForTrial: 404,
}
/** Open work of the share's people that its managers may see and ask for. */
const managersToo = new Set<keyof Api>(['draft', 'askForPoint', 'noteSafeCopy'])
/** Of a draft that is not one's own, its points are none, as of one that is not there yet. */
const emptyForOthers = new Set<keyof Api>(['points'])
/** Templates are their author's and the managers' to remove. */
const rankOf: Record<string, number> = { view: 1, edit: 2, manage: 3 }
const rankOfRole: Record<Role, number> = {
  nobody: 0,
  'guest by link': 0,
  'guest who writes': 0,
  outsider: 0,
  'former member': 0,
  'administrator outside': 0,
  viewer: 1,
  editor: 2,
  manager: 3,
}

/** The status that a cell of the matrix should have; 200 for any that says yes. */
function wanted(name: keyof Api, { right }: Endpoint, role: Role): number {
  const yes = refusedAnyway[name] ?? 200
  if (right === 'anybody') return yes
  if (right === 'by link') return role === 'guest by link' ? yes : 404
  // Of what is somebody else's they see nothing, as whoever is in no share.
  if (role === 'guest who writes' && !forGuests.has(name)) return 403
  if (role === 'nobody' || role === 'guest by link') return 401
  if (right === 'signed in') return yes
  if (name === 'askForMore' && role === 'manager') return 400
  if (right === 'administrator') return role === 'administrator outside' ? yes : 403
  if (right === 'own') {
    if (role === 'editor' || emptyForOthers.has(name)) return 200
    return role === 'manager' && managersToo.has(name) ? 200 : 404
  }
  const needed = name === 'removeTemplate' ? 3 : rankOf[right]!
  if (rankOfRole[role] === 0) return 404
  return rankOfRole[role] >= needed ? yes : 403
}

const cells = (Object.keys(api) as (keyof Api)[])
  // Signing in and out would change who asks afterwards, and has tests of its own.
  .filter((name) => !['signIn', 'signOut', 'endOtherSessions'].includes(name))
  .flatMap((name) => roles.map((role) => [name, role] as const))

/** @returns how many cells were tried, and what is wrong with those that are */
export async function tryMatrix(given: TestOffice): Promise<{ cells: number; wrong: string[] }> {
  await setUp(given)
  const wrong: string[] = []
  for (const [name, role] of cells) {
    const [path, init] = await examples[name]()
    const { status } = await asks[role](path, { method: api[name].method, ...init })
    const shown = status >= 200 && status < 300 ? 200 : status
    const should = wanted(name, api[name], role)
    if (shown !== should) wrong.push(`${name} by ${role}: ${status}, should be ${should}`)
  }
  return { cells: cells.length, wrong }
}
