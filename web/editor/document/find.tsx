import {
  findNext,
  findPrev,
  getMatchHighlights,
  replaceAll,
  replaceNext,
  SearchQuery,
  setSearchState,
} from 'prosemirror-search'
import type { Command } from 'prosemirror-state'
import type { EditorView } from 'prosemirror-view'
import { useEffect, useState } from 'react'
import { FindBar } from '../../views/find-bar'
import { t } from '../../words/all'

/** Find and replace in the document, above it. */
export function Find({ view, editable, onClose }: { view: EditorView; editable: boolean; onClose: () => void }) {
  const [text, setText] = useState('')
  const [replacement, setReplacement] = useState('')
  const [exactCase, setExactCase] = useState(false)
  const [found, setFound] = useState(0)

  useEffect(
    () => () => {
      // The document may have gone first, with its screen.
      if (!view.isDestroyed) view.dispatch(setSearchState(view.state.tr, new SearchQuery({ search: '' })))
    },
    [view],
  )
  useEffect(() => {
    view.dispatch(
      setSearchState(
        view.state.tr,
        new SearchQuery({ search: text, replace: replacement, caseSensitive: exactCase, literal: true }),
      ),
    )
    setFound(text ? getMatchHighlights(view.state).find().length : 0)
  }, [view, text, replacement, exactCase])

  const run = (command: Command) => {
    command(view.state, view.dispatch, view)
    setFound(text ? getMatchHighlights(view.state).find().length : 0)
  }
  return (
    <FindBar
      text={text}
      onText={setText}
      replacement={replacement}
      onReplacement={setReplacement}
      found={found}
      status={text ? (found === 0 ? t('document.not-here') : t('document.n-found', { n: found })) : ''}
      sameCase={exactCase}
      onSameCase={setExactCase}
      editable={editable}
      onGo={(way) => run(way === 'next' ? findNext : findPrev)}
      onReplace={() => run(replaceNext)}
      onReplaceAll={() => run(replaceAll)}
      onClose={() => {
        onClose()
        view.focus()
      }}
    />
  )
}
