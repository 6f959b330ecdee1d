// Shared storage, as the keeper asks for it: over HTTP.

import type { NewPoint, Saved } from '../../core/contract'
import { Fault, type SharedStorage } from '../../core/recovery/ports'
import type { StoredSave } from '../../core/recovery/protocol'
import { say } from '../../core/words/said'
import { call, packed } from '../api/call'

export const sharedStorage: SharedStorage = {
  async point(draftId, body: NewPoint) {
    const small = await packed(body)
    return { ...(await call('point', { params: { draftId }, body }, { packed: small })), sent: small.size }
  },
  heartbeat: (draftId, body) => call('heartbeat', { params: { draftId }, body }),
  takeOver: (draftId, body) => call('takeOver', { params: { draftId }, body }),
  content: (draftId) => call('draft', { params: { draftId } }),
  end: async (draftId, body) => {
    await call('endDraft', { params: { draftId }, body })
  },
  save,
}

async function save({ target, base, bytes, ...save }: StoredSave): Promise<Saved> {
  const facts = {
    key: save.key,
    reason: save.reason,
    ...(save.draftId && { draftId: save.draftId, draftSeq: save.seq, draftEpoch: save.epoch }),
    ...(save.writerId && { writerId: save.writerId }),
    ...(save.head && { draftHead: save.head }),
  }
  // A large save on a slow line takes its time.
  const timeout = 30_000 + bytes.length / 50
  if ('shareId' in target) {
    const { shareId, folderId, path, name, composition, originId } = target
    const place = { shareId, name, ...(folderId && { folderId }), ...(path?.length && { path: path.join('/') }) }
    const query = { ...facts, ...place, ...(composition && { composition }), ...(originId && { originId }) }
    return call('newFile', { query, bytes }, { timeout })
  }
  if (!target.fileId || !base || !('version' in base))
    throw new Fault({
      type: 'not-found',
      title: 'No answer.',
      says: say('work.the-file-of-this-work-is-not'),
      status: 404,
    })
  return call(
    'nextVersion',
    {
      params: { fileId: target.fileId },
      query: {
        ...facts,
        baseId: base.version,
        ...(target.type && { type: target.type }),
        ...(target.writtenAs && { writtenAs: target.writtenAs }),
      },
      bytes,
    },
    { timeout },
  )
}
