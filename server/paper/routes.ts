import { say } from '../../core/words/said'
import type { AppParts } from '../parts'
import { Refusal } from '../refusal'
import type { Mount } from '../requests/mount'
import { requireRole } from '../rights/service'
import { isDamage } from '../storage/content'
import { versionById } from '../versions/read'
import { breaksHere, typesetHere } from './typeset'

export function paperRoutes(
  mount: Mount,
  { database, contents, typeset = typesetHere, findBreaks = breaksHere }: AppParts,
): void {
  const { manager } = database
  /** The file that says how styles look, for who may see it. */
  const stylesOf = async (personId: string, versionId: string | null) => {
    if (versionId === null) return null
    const { realmId, sha256, type } = await versionById(manager, versionId)
    await requireRole(manager, personId, realmId, 'view')
    try {
      return { bytes: await contents.whole(manager, Buffer.from(sha256, 'hex')), type, key: sha256 }
    } catch (error) {
      if (!isDamage(error)) throw error
      throw new Refusal('checksum-differs', say('problem.this-version-is-damaged-on-the-server'))
    }
  }
  mount('onPaper', async ({ person, body, response }) => {
    const { what } = body
    const set = await typeset({
      ...body,
      what:
        what.kind === 'document'
          ? { kind: 'document', json: what.json, styles: await stylesOf(person.id, what.versionId) }
          : what,
    })
    if ('fault' in set) throw new Refusal('invalid', say('problem.cannot-be-set', { why: [set.fault] }))
    response.set({ 'content-type': 'application/pdf', 'jaula-paper': encodeURIComponent(JSON.stringify(set.facts)) })
    response.send(Buffer.from(set.pdf))
    return undefined
  })
  mount('pageBreaks', async ({ person, body }) => {
    const { json, versionId } = body.what
    const found = await findBreaks({
      ...body,
      what: { kind: 'document', json, styles: await stylesOf(person.id, versionId) },
    })
    if ('fault' in found) throw new Refusal('invalid', say('problem.cannot-be-set', { why: [found.fault] }))
    return found
  })
}
