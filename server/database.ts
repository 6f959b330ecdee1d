import { DataSource } from 'typeorm'
import {
  GuessLimitRow,
  KnownBrowserRow,
  PersonCodeRow,
  PersonRow,
  RecoveryCodeRow,
  SecondFactorRow,
  SessionRow,
  SettingsRow,
} from './accounts/entity'
import { AuditRow } from './audit/entity'
import { ChangeQueueRow, VersionChangeRow } from './changes/entity'
import {
  ContentCheckRow,
  CopiedFileRow,
  CopyDrillRow,
  CopyFindingRow,
  CopyPlanRow,
  CopySampleRow,
  CopySiteRow,
  ShareCopyRow,
} from './copies/entity'
import { PlaceChangeRow, PlaceCountRow, StorageChangeRow, StorageUseRow } from './counts/entity'
import { ActivityRow, DraftMarkRow, DraftRow, RecoveryPointRow } from './drafts/entity'
import { DrillRow } from './drills/entity'
import { ActChangeRow, ActRow, ActVersionRow, EntryRow, FileUseRow, FormerNameRow, PresenceRow } from './files/entity'
import { IntakeFileRow, IntakeRow, IntakeSeriesRow } from './intake/entity'
import { prepareQueue } from './jobs/queue'
import { LinkRow, LinkUseRow, LinkVisitRow } from './links/entity'
import { MailRow, SendingRow, SentVersionRow } from './mail/entity'
import { First1764000000000 } from './migrations/1764000000000-first'
import { NextVersion1764100000000 } from './migrations/1764100000000-next-version'
import { NamesAndPlaces1764200000000 } from './migrations/1764200000000-names-and-places'
import { Search1764300000000 } from './migrations/1764300000000-search'
import { Rescue1764400000000 } from './migrations/1764400000000-rescue'
import { Protection1764500000000 } from './migrations/1764500000000-protection'
import { Room1764600000000 } from './migrations/1764600000000-room'
import { History1764700000000 } from './migrations/1764700000000-history'
import { Thinning1764800000000 } from './migrations/1764800000000-thinning'
import { Presence1764900000000 } from './migrations/1764900000000-presence'
import { Lifeline1765000000000 } from './migrations/1765000000000-lifeline'
import { Chains1765100000000 } from './migrations/1765100000000-chains'
import { Writers1765200000000 } from './migrations/1765200000000-writers'
import { Doors1765300000000 } from './migrations/1765300000000-doors'
import { Rights1765400000000 } from './migrations/1765400000000-rights'
import { Roles1765500000000 } from './migrations/1765500000000-roles'
import { Quotas1765600000000 } from './migrations/1765600000000-quotas'
import { PlaceCounts1765700000000 } from './migrations/1765700000000-place-counts'
import { RowIds1765800000000 } from './migrations/1765800000000-row-ids'
import { LatestVersions1765900000000 } from './migrations/1765900000000-latest-versions'
import { NameAudits1766000000000 } from './migrations/1766000000000-name-audits'
import { Copies1766100000000 } from './migrations/1766100000000-copies'
import { CopySites1766200000000 } from './migrations/1766200000000-copy-sites'
import { Moments1766300000000 } from './migrations/1766300000000-moments'
import { CopyDrills1766400000000 } from './migrations/1766400000000-copy-drills'
import { CopyHosts1766500000000 } from './migrations/1766500000000-copy-hosts'
import { Mending1766600000000 } from './migrations/1766600000000-mending'
import { Trials1766700000000 } from './migrations/1766700000000-trials'
import { Intake1766800000000 } from './migrations/1766800000000-intake'
import { FolderPlans1766900000000 } from './migrations/1766900000000-folder-plans'
import { Reading1767000000000 } from './migrations/1767000000000-reading'
import { SideLists1767100000000 } from './migrations/1767100000000-side-lists'
import { People1767200000000 } from './migrations/1767200000000-people'
import { Asking1767300000000 } from './migrations/1767300000000-asking'
import { Watching1767400000000 } from './migrations/1767400000000-watching'
import { Links1767500000000 } from './migrations/1767500000000-links'
import { QuickRights1767600000000 } from './migrations/1767600000000-quick-rights'
import { Whereabouts1767700000000 } from './migrations/1767700000000-whereabouts'
import { Mail1767800000000 } from './migrations/1767800000000-mail'
import { Printing1767900000000 } from './migrations/1767900000000-printing'
import { PdfBeside1768000000000 } from './migrations/1768000000000-pdf-beside'
import { LinesOfVersions1768100000000 } from './migrations/1768100000000-lines-of-versions'
import {
  ControlledListRow,
  ConventionRow,
  ConventionVersionRow,
  CounterNumberRow,
  CounterRow,
  NameAuditRow,
  NameUseRow,
} from './naming/entity'
import { PaperLikesRow, PrinterRow, PrintJobRow } from './printing/entity'
import { OwnProtectionRow, PlaceProtectionRow } from './protection/entity'
import { HoldRow, RemovedVersionRow, RetentionRow } from './retention/entity'
import {
  GrantRow,
  GrantSeenRow,
  GroupMemberRow,
  GroupRow,
  RealmRightRow,
  RealmRow,
  RightRequestRow,
} from './rights/entity'
import {
  SearchBlockRow,
  SearchFileRow,
  SearchFormRow,
  SearchPostingRow,
  SearchQueueRow,
  SearchRealmWordRow,
  SearchWordRow,
} from './search/entity'
import { ShareRow } from './shares/entity'
import { SideListRow } from './side-lists/entity'
import { locks } from './sql/locks'
import { grantToApplication } from './sql/roles'
import { TemplateEntity } from './templates/entity'
import { ChunkRow, ContentBlockRow, ContentRow, KeptVersionRow, TakenFromRow, VersionRow } from './versions/entity'
import { WatchRow } from './watching/entity'

export const entities = [
  PersonRow,
  PersonCodeRow,
  SecondFactorRow,
  RecoveryCodeRow,
  SessionRow,
  KnownBrowserRow,
  SettingsRow,
  GuessLimitRow,
  AuditRow,
  VersionChangeRow,
  ChangeQueueRow,
  StorageUseRow,
  StorageChangeRow,
  PlaceCountRow,
  PlaceChangeRow,
  DraftRow,
  RecoveryPointRow,
  DraftMarkRow,
  ActivityRow,
  DrillRow,
  EntryRow,
  SideListRow,
  PresenceRow,
  FileUseRow,
  ActRow,
  ActChangeRow,
  ActVersionRow,
  FormerNameRow,
  ControlledListRow,
  ConventionRow,
  ConventionVersionRow,
  CounterRow,
  CounterNumberRow,
  NameUseRow,
  NameAuditRow,
  OwnProtectionRow,
  PlaceProtectionRow,
  RetentionRow,
  HoldRow,
  RemovedVersionRow,
  GroupRow,
  GroupMemberRow,
  RealmRow,
  GrantRow,
  WatchRow,
  LinkRow,
  LinkVisitRow,
  LinkUseRow,
  SendingRow,
  SentVersionRow,
  MailRow,
  PrinterRow,
  PrintJobRow,
  PaperLikesRow,
  GrantSeenRow,
  RightRequestRow,
  RealmRightRow,
  SearchWordRow,
  SearchFormRow,
  SearchFileRow,
  SearchPostingRow,
  SearchBlockRow,
  SearchRealmWordRow,
  SearchQueueRow,
  ShareRow,
  TemplateEntity,
  VersionRow,
  ContentRow,
  ChunkRow,
  ContentBlockRow,
  KeptVersionRow,
  CopySiteRow,
  CopyPlanRow,
  ShareCopyRow,
  CopiedFileRow,
  CopyFindingRow,
  CopySampleRow,
  ContentCheckRow,
  CopyDrillRow,
  IntakeRow,
  IntakeFileRow,
  IntakeSeriesRow,
  TakenFromRow,
]
export const migrations = [
  First1764000000000,
  NextVersion1764100000000,
  NamesAndPlaces1764200000000,
  Search1764300000000,
  Rescue1764400000000,
  Protection1764500000000,
  Room1764600000000,
  History1764700000000,
  Thinning1764800000000,
  Presence1764900000000,
  Lifeline1765000000000,
  Chains1765100000000,
  Writers1765200000000,
  Doors1765300000000,
  Rights1765400000000,
  Roles1765500000000,
  Quotas1765600000000,
  PlaceCounts1765700000000,
  RowIds1765800000000,
  LatestVersions1765900000000,
  NameAudits1766000000000,
  Copies1766100000000,
  CopySites1766200000000,
  Moments1766300000000,
  CopyDrills1766400000000,
  CopyHosts1766500000000,
  Mending1766600000000,
  Trials1766700000000,
  Intake1766800000000,
  FolderPlans1766900000000,
  Reading1767000000000,
  SideLists1767100000000,
  People1767200000000,
  Asking1767300000000,
  Watching1767400000000,
  Links1767500000000,
  QuickRights1767600000000,
  Whereabouts1767700000000,
  Mail1767800000000,
  Printing1767900000000,
  PdfBeside1768000000000,
  LinesOfVersions1768100000000,
]

/** The works that the queue has a place for; each is its subject's (server/main.ts). */
export const works = [
  'index',
  'describe',
  'move',
  'thin',
  'side-lists',
  'sweep',
  'count',
  'copy',
  'store-check',
  'trial',
  'intake',
  'mail',
  'returned-mail',
  'print',
] as const

/** What one statement, and one transaction that does nothing, may take; milliseconds. Nobody waits longer for an answer. */
const longestStatement = 60_000
const longestIdle = 600_000
/** What one connection's questions may write to the disk on their way. */
const mostTemporary = '4GB'

/**
 * Brings the schema up to date as its owner, and connects as the application.
 * @param url a PostgreSQL connection string
 * @param ownerUrl the same database for the role that owns it; without one the application's role has to be that, too
 */
export async function openDatabase(url: string, ownerUrl = url): Promise<DataSource> {
  await migrate(ownerUrl, url)
  const database = new DataSource({
    type: 'postgres',
    url,
    entities,
    poolSize: 12,
    connectTimeoutMS: 5000,
    // An idle connection that the server closed is dropped; the next request opens another.
    poolErrorHandler: () => {},
    extra: {
      idleTimeoutMillis: 30_000,
      statement_timeout: longestStatement,
      idle_in_transaction_session_timeout: longestIdle,
    },
    logging: false,
  })
  return database.initialize()
}

/** The database as the role that owns it, for what the application may not do and takes its time. */
export function openOwned(url: string): Promise<DataSource> {
  return new DataSource({
    type: 'postgres',
    url,
    entities,
    poolSize: 2,
    poolErrorHandler: () => {},
    logging: false,
  }).initialize()
}

/** Migrations take the time that they need, on a connection of their own. */
async function migrate(url: string, applicationUrl: string): Promise<void> {
  const database = new DataSource({
    type: 'postgres',
    url,
    entities,
    migrations,
    poolSize: 2,
    connectTimeoutMS: 5000,
    poolErrorHandler: () => {},
    logging: false,
  })
  await database.initialize()
  const runner = database.createQueryRunner()
  try {
    await runner.query('select pg_advisory_lock($1)', [locks.migration])
    await database.runMigrations({ transaction: 'each' })
    if (applicationUrl !== url) await grantToApplication(runner, decodeURIComponent(new URL(applicationUrl).username))
    await prepareQueue(url, works, {
      runner,
      role: applicationUrl === url ? null : decodeURIComponent(new URL(applicationUrl).username),
    })
    // Only a superuser may; whoever brings a database of their own sets it for its role (docs/security.md).
    const [{ own }] = await runner.query(`select rolsuper as own from pg_roles where rolname = current_user`)
    if (own)
      await runner.query(
        `do $$ begin execute format('alter role %I in database %I set temp_file_limit = %L', current_user, current_database(), '${mostTemporary}'); end $$`,
      )
    await runner.query('select pg_advisory_unlock($1)', [locks.migration])
  } finally {
    await runner.release()
    await database.destroy()
  }
}
