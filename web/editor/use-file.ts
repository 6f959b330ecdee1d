// What the server knows of the file that is open: its facts, held once, and the work that goes along with them.

import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import type { FileFacts } from '../../core/contract'
import { Refused } from '../api/call'
import { keys } from '../api/keys'
import { t } from '../words/all'
import { unnamed } from '../words/unnamed'
import { wholeFacts } from '../work/file-facts'
import type { DraftSession } from '../work/session'
import type { SessionOutline } from '../work/session-state'

/** @param first the facts that the work was opened with */
export function useFile(session: DraftSession, state: SessionOutline, first: FileFacts | null) {
  const client = useQueryClient()
  const fileId = state.file?.id
  const facts = useQuery({
    queryKey: keys.file(fileId),
    enabled: !!fileId,
    initialData: fileId === first?.file.id ? (first ?? undefined) : undefined,
    queryFn: () => wholeFacts(fileId!, client.getQueryData(keys.file(fileId))),
  })
  // A file is opened with its newest versions; the older ones follow.
  const partly = facts.data && facts.data.versions.length < facts.data.versionsInAll
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked for whole when another file is shown in part
  useEffect(() => {
    if (partly) void facts.refetch()
  }, [partly, fileId])
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked when there is another newest version, which its id tells
  useEffect(() => {
    const { head } = state
    if (!head) return
    // What was asked for before the save, and not answered yet, does not know of it: then it is asked once more.
    void facts.refetch().then(({ data }) => {
      if (data?.file.id === head.fileId && !data.versions.some(({ id }) => id === head.id)) void facts.refetch()
    })
  }, [state.head?.id])
  const history = facts.data?.file.id === fileId ? facts.data : undefined
  // The server's word on the name counts: it may have been renamed elsewhere.
  const known = history?.file
  // biome-ignore lint/correctness/useExhaustiveDependencies: follows the file’s name and place alone
  useEffect(() => {
    // A file that was renamed or moved elsewhere takes its draft along.
    if (known && state.file && (known.name !== state.file.name || known.folderId !== state.file.folderId))
      session.adopt(
        {
          id: known.id,
          name: known.name,
          shareId: known.shareId,
          folderId: known.folderId,
          readAs: history.readAs,
        },
        state.head,
      )
  }, [known?.name, known?.folderId])
  const name = known?.name ?? state.file?.name ?? unnamed(state.kind, new Date(state.bornAt))
  useEffect(() => {
    document.title = t('editor.jaula', { unsaved: Boolean(session.unsaved), name })
  })
  useEffect(
    () => () => {
      document.title = t('common.jaula')
    },
    [],
  )
  const newest = history?.versions[0]
  return {
    fileId,
    facts,
    history,
    name,
    role: facts.data?.share.role ?? 'edit',
    /** It was here, and is not any more, or not for whoever has it open. */
    lost: facts.error instanceof Refused && facts.error.problem.type === 'not-found',
    newest,
    /** Somebody saved after what this work is based on. */
    newer: newest && state.head && newest.number > state.head.number ? newest : null,
  }
}
export type OpenFile = ReturnType<typeof useFile>
