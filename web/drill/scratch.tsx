// The page of a recovery drill: it types into a scratch document with the person's settings, through
// the same editor, session and journal as real work, and says what it typed, until it is ended.
import type { EditorView } from 'prosemirror-view'
import { useEffect, useState } from 'react'
import { useParams } from 'react-router'
import { blankDocument, openingOf } from '../../core/content/document'
import { noWords } from '../../core/content/words'
import { useSession } from '../app/session'
import { DocumentPage } from '../editor/document/page'
import { DraftSession } from '../editor/draft-session'
import { tellJournal } from '../workers/journal'

export type FromScratch = { say: 'typed'; letter: string; at: number } | { say: 'ready' }
export const drillChannel = (id: string) => `jaula-drill-${id}`

const words =
  'A rehearsal: this page writes as you would, and is ended in the middle of a word, as a crash would end it. '
const everyMs = 90

export function Scratch() {
  const { draftId } = useParams()
  const { person, settings } = useSession()
  const [session] = useState(
    () =>
      new DraftSession(
        {
          draftId: draftId!,
          kind: 'document',
          personId: person.id,
          bornAt: new Date().toISOString(),
          file: null,
          head: null,
          base: null,
          continued: null,
        },
        false,
      ),
  )
  const [json] = useState(() => blankDocument().toJSON())
  const [view, setView] = useState<EditorView | null>(null)
  useEffect(() => tellJournal({ do: 'interval', seconds: settings.recoveryInterval }), [settings.recoveryInterval])
  useEffect(() => {
    if (!view) return
    session.attach({
      encode: () => Promise.reject(new Error('A drill saves nothing.')),
      opening: () => openingOf(view.state.doc),
      clues: () => noWords,
    })
    const channel = new BroadcastChannel(drillChannel(draftId!))
    const tell = (message: FromScratch) => channel.postMessage(message)
    let next = 0
    const begin = () => {
      tell({ say: 'ready' })
      return setInterval(() => {
        const letter = words[next++ % words.length]!
        view.dispatch(view.state.tr.insertText(letter, view.state.doc.content.size - 1))
        tell({ say: 'typed', letter, at: Date.now() })
      }, everyMs)
    }
    let typing: ReturnType<typeof setInterval> | undefined
    const stop = session.subscribe(() => {
      if (session.state.ready && !typing) typing = begin()
    })
    return () => {
      stop()
      clearInterval(typing)
      channel.close()
    }
  }, [view])
  return <DocumentPage json={json} editable onView={setView} onEdit={(edit) => session.record(edit)} />
}
