// What is inside a piece of unsaved work, from wherever it can be had, and the acts that keep it.

import { uuidv7 } from 'uuidv7'
import type { Saved } from '../../core/contract'
import { WouldLose, type Written } from '../../core/formats/refusals'
import { typeOfWork, typeWritten } from '../../core/formats/types'
import { SaidError, saidBy } from '../../core/words/said'
import { call } from '../api/call'
import { WorkbookStore } from '../views/workbook/store'
import { t, told } from '../words'
import { endedInFile } from '../work/ending'
import { type Gathered, gatherDraft } from '../work/gather'
import { codec } from '../workers/codec'
import { compareWork } from '../workers/compare'
import type { Inside } from '../workers/compare.worker'

export interface Looked {
  gathered: Gathered
  inside: Inside
}

/** The version that the work goes on from: what it was saved as last, or what it began from. */
export const lastVersionOf = (gathered: Gathered): string | null => gathered.headVersionId ?? gathered.baseVersionId

/** The type of the file that work is, or would be. */
const typeOf = ({ kind, remote, stored }: Gathered): string =>
  typeOfWork(remote?.file?.name ?? stored?.fileName ?? null, kind)

/** @param until the last record to look at; all of them when absent */
export async function lookInside(draftId: string, until?: number): Promise<Looked | null> {
  const gathered = await gatherDraft(draftId)
  if (!gathered) return null
  const records = until === undefined ? gathered.records : gathered.records.slice(0, until)
  const versionId = lastVersionOf(gathered)
  const version =
    versionId === null
      ? null
      : versionId === gathered.baseVersionId && gathered.base
        ? gathered.base
        : await call('bytes', { params: { versionId } })
  // Where shared storage has less than the version holds, the version is what there is of it.
  const [base, some] = gathered.behindVersion ? [version, []] : [gathered.base, records]
  return {
    gathered,
    inside: await compareWork().inside(gathered.kind, base, some, version, gathered.model, typeOf(gathered)),
  }
}

/** A piece of work as a file of its type, and what that does not hold of the file that it came of. */
export async function written(gathered: Gathered, until?: number): Promise<Written> {
  const { kind, base, records, model } = gathered
  const type = typeWritten(typeOf(gathered), gathered.kind)
  const wanted = until === undefined ? records : records.slice(0, until)
  if (kind === 'document') {
    const read = await codec().readDocument(base, wanted, model)
    if ('damaged' in read) throw new SaidError(read.damaged)
    return await codec().writeDocument(read.opened.json, base, type, read.opened.stands.type)
  }
  // The store computes the formulas' results, which belong into the file.
  const store = new WorkbookStore(null)
  try {
    const read = await store.open(base?.slice() ?? null, wanted, model)
    if ('damaged' in read) throw new SaidError(read.damaged)
    return await store.encode({ type })
  } finally {
    store.close()
  }
}

/** Saves interrupted work as the next version of its file, whole. @throws Refused when the file has a newer version */
export async function saveAsNext(draftId: string): Promise<Saved> {
  const gathered = await gatherDraft(draftId)
  // Saving ends the draft, and with it what of it could not be read: that is a person's choice, with the work open.
  if (gathered?.lostFrom) throw new Error(t('rescue.what-this-computer-has-of-it-is-2', { it: gathered.lostFrom - 1 }))
  const baseId = gathered && lastVersionOf(gathered)
  if (!gathered?.fileId || !baseId) throw new Error(t('rescue.this-work-has-no-file-yet-save'))
  const { bytes, lost } = await written(gathered)
  const own = typeOf(gathered)
  const type = typeWritten(own, gathered.kind)
  // What a file would lose is accepted where it is open, by whoever sees it.
  if (lost.length) throw new Error(told(saidBy(new WouldLose(lost))))
  const saved = await call('nextVersion', {
    params: { fileId: gathered.fileId },
    query: { key: uuidv7(), baseId, draftId, draftSeq: gathered.records.length, ...(type !== own && { type }) },
    bytes,
  })
  await endedInFile(gathered)
  return saved
}
