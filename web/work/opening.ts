// From an address to something that can be edited: a file's newest version, the unsaved work
// that this device still has of it, a draft from Rescue, or a blank beginning.

import { uuidv7 } from 'uuidv7'
import type { DraftKind, FileFacts, JournalRecord, PartValues, Template, Version } from '../../core/contract'
import { fileType } from '../../core/formats/types'
import { recordText } from '../../core/recovery/chain'
import { call, isAway } from '../api/call'
import type { ChosenPlace } from '../places/place'
import { t } from '../words'
import { device, heldDrafts } from './device'
import { endPiece } from './ending'
import { wholeFacts } from './file-facts'
import { gatherDraft } from './gather'
import { onJournal } from './journal'
import type { Beginning } from './session-state'

export interface Opening {
  beginning: Omit<Beginning, 'personId'>
  /** The bytes that the editor starts from, and the records to replay on them. */
  bytes: Uint8Array | null
  records: JournalRecord[] | null
  facts: FileFacts | null
  /** Values that a template gives to the name. */
  presets?: PartValues
  /** Where the template's convention holds: the name and the place begin there. */
  place?: ChosenPlace
  /** The first record of the journal that could not be read. */
  lostFrom?: number | null
  /** Edits that are known to have been made and are not here, and which device has them. */
  missing?: { edits: number; deviceName: string } | null
  /** Unsaved work is being gone on with; where it came from. */
  recoveredFrom: 'device' | 'shared storage' | null
}

/** @throws Refused; @returns 'other type' for a file that no editor reads */
export async function openFile(
  fileId: string,
  personId: string,
  freshId: string,
  takeOver = false,
): Promise<Opening | { otherType: FileFacts }> {
  let facts: FileFacts
  try {
    facts = await call('file', { params: { fileId } })
  } catch (error) {
    // Without the server, unsaved work on this device can still be gone on with.
    const left = isAway(error) ? await unsavedDraftOf(fileId, personId) : null
    const going = left && (await openDraft(left))
    if (going) return going
    throw error
  }
  const { file } = facts
  if (!fileType(file.type).editable) return { otherType: facts }
  // Another tab of this browser has unsaved work on it: that is shown, and not a second draft begun.
  const held = facts.share.role !== 'view' ? await heldDraftOf(fileId, personId) : null
  const shown = held && (await openDraft(held, facts, false, takeOver))
  if (shown && !takeOver)
    return { ...shown, recoveredFrom: null, beginning: { ...shown.beginning, heldElsewhere: true } }
  if (shown) return shown
  const left = await unsavedDraftOf(fileId, personId)
  const going = left && facts.share.role !== 'view' ? await openDraft(left, facts) : null
  if (going) return going
  const head = file.head!
  const bytes = await call('bytes', { params: { versionId: head.id } })
  return {
    beginning: {
      draftId: freshId,
      kind: fileType(file.type).kind as 'document' | 'spreadsheet',
      bornAt: new Date().toISOString(),
      file: placed(facts),
      head,
      base: { versionId: head.id, bytes: bytes.slice() },
      continued: null,
    },
    bytes,
    records: null,
    facts,
    recoveredFrom: null,
  }
}

/** New work: blank, or from a template's version, which it never touches. */
export async function openNew(draftId: string, kind: DraftKind, templateId: string | null): Promise<Opening> {
  const template: Template | undefined = templateId
    ? (await call('templates', {})).find(({ id }) => id === templateId)
    : undefined
  if (templateId && !template) throw new Error(t('work.this-template-is-not-here-any-more'))
  const [bytes, naming] = template
    ? await Promise.all([
        call('bytes', { params: { versionId: template.versionId } }),
        call('naming', { params: { shareId: template.shareId } }),
      ])
    : [null, null]
  const convention = naming?.conventions.find(({ id }) => id === template?.conventionId)
  return {
    beginning: {
      draftId,
      kind: template?.kind ?? kind,
      bornAt: new Date().toISOString(),
      file: null,
      head: null,
      base: template && bytes ? { versionId: template.versionId, bytes: bytes.slice() } : null,
      continued: null,
    },
    bytes,
    records: null,
    facts: null,
    recoveredFrom: null,
    ...(template && {
      presets: template.presets,
      place: { shareId: template.shareId, folderId: convention?.folderId ?? null, path: [] },
    }),
  }
}

/** The draft of a file that another live page of this browser has, with unsaved work in it. */
async function heldDraftOf(fileId: string, personId: string): Promise<string | null> {
  try {
    const held = await heldDrafts()
    const draft = (await device.drafts()).find(
      (one) => one.fileId === fileId && one.personId === personId && one.journalSeq > one.savedSeq && held.has(one.id),
    )
    return draft?.id ?? null
  } catch {
    return null
  }
}

/** The last unsaved draft of a file that this device keeps and no live page has. */
async function unsavedDraftOf(fileId: string, personId: string): Promise<string | null> {
  try {
    const held = await heldDrafts()
    const drafts = (await device.drafts()).filter(
      (draft) =>
        draft.fileId === fileId &&
        draft.personId === personId &&
        draft.state === 'open' &&
        draft.journalSeq > draft.savedSeq &&
        !held.has(draft.id),
    )
    drafts.sort((a, b) => (a.lastEditAt ?? '').localeCompare(b.lastEditAt ?? ''))
    return drafts.at(-1)?.id ?? null
  } catch {
    return null
  }
}

/** @param detached keep what is in it as a separate file: it loses its file and keeps its content */
export async function openDraft(
  draftId: string,
  known: FileFacts | null = null,
  detached = false,
  takeOver = false,
): Promise<Opening | null> {
  const gathered = await gatherDraft(draftId)
  // What is finished is in a version of its file.
  if (!gathered || (gathered.remote?.state === 'finished' && !gathered.stored)) return null
  if (gathered.over && !detached) {
    const opened = gathered.fileId && (await openFile(gathered.fileId, gathered.stored!.personId, uuidv7()))
    return !opened || 'otherType' in opened ? null : opened
  }
  // Only the version of it is to be had, and what its device has beyond that: the file is what there is to go on with.
  if (gathered.behindVersion && gathered.fileId && gathered.remote && !detached) {
    const opened = await openFile(gathered.fileId, gathered.remote.person.id, uuidv7())
    return 'otherType' in opened ? null : { ...opened, missing: gathered.missing }
  }
  const fileId = detached ? null : gathered.fileId
  let facts = known ?? (fileId ? await call('file', { params: { fileId } }).catch(() => null) : null)
  // The next save must be based on the version that this work knows, not on what came after it.
  const knownHead = gathered.headVersionId ?? gathered.baseVersionId
  if (facts && knownHead && !facts.versions.some(({ id }) => id === knownHead))
    facts = await wholeFacts(facts.file.id, facts).catch(() => facts)
  const head: Version | null = facts?.versions.find((version) => version.id === knownHead) ?? facts?.file.head ?? null
  return {
    beginning: {
      draftId,
      kind: gathered.kind,
      bornAt: gathered.bornAt,
      // Without the server the file is known by what the device kept of it.
      file: detached
        ? null
        : facts
          ? placed(facts)
          : fileId
            ? { id: fileId, name: gathered.stored?.fileName ?? '', shareId: '', folderId: null }
            : null,
      head: detached ? null : head,
      base:
        gathered.base && gathered.baseVersionId
          ? { versionId: gathered.baseVersionId, bytes: gathered.base.slice() }
          : null,
      continued: {
        lines: gathered.lines,
        seen: gathered.seen,
        onDevice: gathered.onDevice,
        epoch: gathered.epoch,
        savedSeq: detached ? 0 : gathered.savedSeq,
        savedHead: detached ? null : gathered.savedHead,
        pointSeq: gathered.pointSeq,
        headVersionId: gathered.headVersionId,
        lastEditAt: gathered.lastEditAt,
        opening: gathered.opening,
        beyond: gathered.beyond,
        model: gathered.model,
        resting: gathered.resting,
        forkOf: gathered.forkOf,
        takeOver,
      },
    },
    missing: gathered.missing,
    lostFrom: gathered.lostFrom,
    bytes: gathered.base,
    records: gathered.records,
    facts,
    recoveredFrom: gathered.from,
  }
}

/**
 * The same work in a draft of its own, as one edit on its file as it is read now. What it was written as is let
 * go, and kept for its days, as soon as the device has the new one.
 */
export function carriedOver({ beginning, ...opening }: Opening, edit: unknown): Opening {
  const draftId = uuidv7()
  const before = beginning.draftId
  const { continued } = beginning
  const record: JournalRecord = { seq: 1, at: Date.now(), edit, did: 'taken in' }
  const stop = onJournal((message) => {
    if (message.say !== 'journaled' || message.draftId !== draftId) return
    stop()
    void endPiece(before, 'let go', 14).catch(() => {})
  })
  return {
    ...opening,
    records: [record],
    beginning: {
      ...beginning,
      draftId,
      continued: continued && {
        ...continued,
        lines: [recordText(record)],
        seen: null,
        onDevice: 0,
        epoch: null,
        savedSeq: 0,
        savedHead: null,
        pointSeq: 0,
        model: null,
        resting: null,
        forkOf: null,
      },
    },
  }
}

const placed = ({ file, readAs }: FileFacts) => ({
  readAs,
  id: file.id,
  name: file.name,
  shareId: file.shareId,
  folderId: file.folderId,
})
