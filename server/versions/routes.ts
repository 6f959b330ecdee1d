import type { z } from 'zod'
import type { NewFile, NextVersion, Person } from '../../core/contract'
import { traceBack } from '../changes/trace'
import { unbounded } from '../counts/quotas'
import type { AppParts } from '../parts'
import type { Mount } from '../requests/mount'
import type { Received } from '../requests/upload'
import { requireRole, requireRoleAt, requireRoleIn } from '../rights/service'
import { keepVersion } from '../saving/keep'
import { labelVersion } from './labels'
import { versionById } from './read'
import { attachmentOf, sendContent } from './send'

const draftOf = (query: z.output<typeof NewFile> | z.output<typeof NextVersion>) =>
  query.draftId
    ? {
        id: query.draftId,
        seq: query.draftSeq ?? 0,
        epoch: query.draftEpoch ?? 0,
        writerId: query.writerId ?? null,
        head: query.draftHead ? Buffer.from(query.draftHead, 'hex') : null,
      }
    : undefined

/** What every save says, whether of a new file or of a next version. */
const savingOf = (person: Person, query: z.output<typeof NewFile> | z.output<typeof NextVersion>, bytes: Received) => ({
  personId: person.id,
  bytes,
  reason: query.reason,
  key: query.key,
  sha256: query.sha256,
  draft: draftOf(query),
})

export function versionRoutes(mount: Mount, { database, comparing, contents, quotas = unbounded }: AppParts): void {
  const { manager } = database
  mount(
    'newFile',
    ({ person, query, body }) =>
      keepVersion(database, quotas, {
        ...savingOf(person, query, body),
        target: {
          place: {
            shareId: query.shareId,
            folderId: query.folderId ?? null,
            path: query.path?.split('/').filter(Boolean),
            name: query.name,
            composition: query.composition,
            originId: query.originId,
          },
        },
      }),
    ({ person, query }) =>
      requireRoleIn(manager, person.id, { shareId: query.shareId, folderId: query.folderId ?? null }, 'edit'),
  )
  mount(
    'nextVersion',
    ({ person, query, params, body }) =>
      keepVersion(database, quotas, {
        ...savingOf(person, query, body),
        target: {
          fileId: params.fileId,
          baseId: query.baseId,
          ...(query.type && { type: query.type }),
          ...(query.writtenAs && { writtenAs: query.writtenAs }),
        },
      }),
    ({ person, params }) => requireRoleAt(manager, person.id, params.fileId, 'edit'),
  )
  mount('restore', async ({ person, params, body }) => {
    const earlier = await versionById(manager, params.versionId)
    await requireRole(manager, person.id, earlier.realmId, 'edit')
    return keepVersion(database, quotas, {
      personId: person.id,
      bytes: await contents.whole(manager, Buffer.from(earlier.sha256, 'hex')),
      reason: 'restored',
      key: body.key,
      sha256: earlier.sha256,
      // A file that goes on as another type is again what it was then.
      target: { fileId: earlier.fileId, baseId: body.baseId, type: earlier.type },
    })
  })
  mount('bytes', async ({ person, params, request, response }) => {
    const wanted = await versionById(manager, params.versionId)
    await requireRole(manager, person.id, wanted.realmId, 'view')
    const etag = `"${wanted.sha256}"`
    // A browser that others use, too, asks each time whether it may still show what it has.
    response.set({ 'cache-control': 'private, no-cache', etag })
    if (request.headers['if-none-match'] === etag) return void response.status(304).end()
    response.set(attachmentOf(wanted))
    await sendContent(contents, manager, Buffer.from(wanted.sha256, 'hex'), response)
    return undefined
  })
  mount('labelVersion', ({ person, params, body }) => labelVersion(manager, person.id, params.versionId, body.label))
  mount('trace', ({ person, params, body }) =>
    traceBack(database, { comparing, contents }, person.id, params.versionId, body),
  )
}
