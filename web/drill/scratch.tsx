// The page of a recovery drill: it types into a scratch document with the person's settings, through
// the same editor, session and journal as real work, and says what it typed, until it is ended.
import type { EditorView } from 'prosemirror-view'
import { useEffect, useState } from 'react'
import { useParams } from 'react-router'
import { blankDocument, openingOf } from '../../core/content/document'
import { noWords } from '../../core/content/words'
import type { DraftKind } from '../../core/contract'
import { useSession } from '../api/signed-in'
import { DocumentPage } from '../views/document/page'
import { WorkbookStore } from '../views/workbook/store'
import { t } from '../words'
import { tellJournal } from '../work/journal'
import { DraftSession } from '../work/session'

export type FromScratch = { say: 'typed'; letter: string; at: number } | { say: 'ready' }
export const drillChannel = (id: string) => `jaula-drill-${id}`

const words = t('drill.a-drill-this-page-writes-as-you')
const everyMs = 90

export function Scratch() {
  const { draftId, kind } = useParams() as { draftId: string; kind: DraftKind }
  const { person, settings } = useSession()
  const [session] = useState(
    () =>
      new DraftSession(
        {
          draftId,
          kind,
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
  useEffect(
    () => tellJournal({ do: 'interval', draftId, seconds: settings.recoveryInterval }),
    [draftId, settings.recoveryInterval],
  )
  return kind === 'document' ? <WritesText session={session} /> : <FillsCells session={session} />
}

/** Begins to type when the session is ready, a letter at a time, and tells of each. @returns a function that stops it */
function typeInto(session: DraftSession, type: (letter: string, index: number) => void): () => void {
  const channel = new BroadcastChannel(drillChannel(session.state.draftId))
  const tell = (message: FromScratch) => channel.postMessage(message)
  let typing: ReturnType<typeof setInterval> | undefined
  const begin = () => {
    if (!session.state.ready || typing) return
    tell({ say: 'ready' })
    let next = 0
    typing = setInterval(() => {
      const letter = words[next % words.length]!
      type(letter, next++)
      tell({ say: 'typed', letter, at: Date.now() })
    }, everyMs)
  }
  const stop = session.subscribe(begin)
  begin()
  return () => {
    stop()
    clearInterval(typing)
    channel.close()
  }
}

function WritesText({ session }: { session: DraftSession }) {
  const [json] = useState(() => blankDocument().toJSON())
  const [view, setView] = useState<EditorView | null>(null)
  // biome-ignore lint/correctness/useExhaustiveDependencies: the page types from when its view is there; its session is one for its life
  useEffect(() => {
    if (!view) return
    session.attach({
      encode: () => Promise.reject(new Error(t('drill.a-drill-saves-nothing'))),
      opening: () => openingOf(view.state.doc),
      clues: () => noWords,
    })
    return typeInto(session, (letter) =>
      view.dispatch(view.state.tr.insertText(letter, view.state.doc.content.size - 1)),
    )
  }, [view])
  return <DocumentPage json={json} editable onView={setView} onEdit={(edit) => session.record(edit)} />
}

/** Letters in a cell before the next one is begun. */
const lettersInCell = 7

/** Enters letters as the grid does: what is being typed is journaled at each, a finished entry is an edit. */
function FillsCells({ session }: { session: DraftSession }) {
  const [store] = useState(() => new WorkbookStore((edit) => session.record(edit)))
  // biome-ignore lint/correctness/useExhaustiveDependencies: the page types once; its session and its workbook are one for its life
  useEffect(() => {
    session.attach({
      encode: () => Promise.reject(new Error(t('drill.a-drill-saves-nothing'))),
      opening: () => store.opening(),
      clues: () => noWords,
    })
    let stop = () => {}
    let entry = ''
    void store.open(null, null).then(() => {
      stop = typeInto(session, (letter, index) => {
        const row = Math.floor(index / lettersInCell)
        entry += letter
        // Nothing that could be taken for a number or a formula.
        if (index % lettersInCell < lettersInCell - 1)
          return store.typing({ sheet: 0, row, column: 0, entry: `:${entry}` })
        store.change([{ op: 'cells', sheet: 0, cells: [{ row, column: 0, cell: { value: `:${entry}` } }] }])
        entry = ''
      })
    })
    return () => {
      stop()
      store.close()
    }
  }, [])
  return null
}
