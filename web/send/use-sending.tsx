// Sending from the work itself, and what was sent of it: the questions, the commands, and what did not arrive.
import { type ReactNode, useMemo, useState } from 'react'
import type { FileFacts } from '../../core/contract'
import { useSession } from '../api/signed-in'
import { useOffer } from '../design/commands'
import { t } from '../words/all'
import { listed } from '../words/formats'
import { LostMail } from './lost-mail'
import { SendQuestion, type Wish } from './send'
import { SentQuestion, useSent } from './sent-list'

export interface Sending {
  /** Absent where nothing can be sent. */
  send?: (wish?: Wish) => void
  /** Shows what was sent; absent where nothing was. */
  sent?: () => void
  /** How often something was. */
  count: number
  /** To whom a version was sent, by its id. */
  sentTo: ReadonlyMap<string, string>
  notices: ReactNode
  questions: ReactNode
}

export function useSending({
  fileId: savedAs,
  facts,
  unsaved = null,
  onChanges,
}: {
  /** Of the work, as soon as it is saved. */
  fileId: string | undefined
  /** They may come a moment later: what is asked for waits for them. */
  facts: FileFacts | undefined
  unsaved?: { save: () => void } | null
  /** Shows what is other now than in a version. */
  onChanges: (versionId: string) => void
}): Sending {
  const { session, person } = useSession()
  const guest = person.guestOf !== undefined
  const fileId = guest ? undefined : savedAs
  const can = fileId !== undefined && session.mail !== null
  const [asking, setAsking] = useState<{ about: 'send'; wish: Wish } | { about: 'sent' } | null>(null)
  const sent = useSent(fileId)
  const send = (wish: Wish = {}) => setAsking({ about: 'send', wish })
  const look = () => setAsking({ about: 'sent' })
  const count = sent.data?.length ?? 0
  useOffer([
    ...(can
      ? [{ id: 'send', label: t('sending.send'), keys: 'Alt+M', group: t('common.this-file'), run: () => send() }]
      : []),
    ...(count ? [{ id: 'sent', label: t('sending.what-was-sent'), group: t('common.this-file'), run: look }] : []),
  ])
  const sentTo = useMemo(() => {
    const people = new Map<string, Set<string>>()
    for (const { as, versions, mails } of sent.data ?? []) {
      if (as !== 'file') continue
      for (const { id } of versions)
        people.set(id, new Set([...(people.get(id) ?? []), ...mails.map(({ name, address }) => name ?? address)]))
    }
    return new Map([...people].map(([id, names]) => [id, listed([...names])]))
  }, [sent.data])
  return {
    ...(can && { send }),
    ...(count > 0 && { sent: look }),
    count,
    sentTo,
    notices: fileId !== undefined && <LostMail of={fileId} onLook={look} />,
    questions: (
      <>
        {asking?.about === 'send' && facts && (
          <SendQuestion
            of={{
              id: facts.file.id,
              kind: 'file',
              name: facts.file.name,
              role: facts.share.role,
              versions: facts.versions,
            }}
            wish={asking.wish}
            unsaved={unsaved}
            onClose={() => setAsking(null)}
          />
        )}
        {asking?.about === 'sent' && facts && (
          <SentQuestion
            entryId={facts.file.id}
            onClose={() => setAsking(null)}
            onChanges={(versionId) => {
              setAsking(null)
              onChanges(versionId)
            }}
            {...(can && { onAgain: send })}
          />
        )}
      </>
    ),
  }
}
