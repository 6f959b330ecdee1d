import { toast } from 'sonner'
import { uuidv7 } from 'uuidv7'
import type { Version } from '../../core/contract'
import { call, Refused } from '../api/call'
import { t, told } from '../words/all'
import type { DraftSession } from '../work/session'
import type { OpenFile } from './use-file'

/** Makes an earlier version the newest. The work so far is set aside, and the file opened anew. */
export const restoring =
  (session: DraftSession, { newest }: OpenFile, reopen: () => void) =>
  async (version: Version): Promise<void> => {
    try {
      const { version: made } = await call('restore', {
        params: { versionId: version.id },
        body: { key: uuidv7(), baseId: newest!.id },
      })
      toast(t('editor.version-is-restored-as-version', { number: version.number, number2: made.number }))
      await session.close(session.unsaved ? 'closed' : 'finished')
      reopen()
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : t('editor.it-could-not-be-restored'))
    }
  }
