import { ArrowDown, ArrowUp, X } from 'lucide-react'
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
import { useEffect, useRef, useState } from 'react'
import { Button } from '../../design/controls'
import { IconButton } from '../../design/icon-button'
import { t } from '../../words/all'

/** Find and replace in the document, above it. */
export function Find({ view, editable, onClose }: { view: EditorView; editable: boolean; onClose: () => void }) {
  const [text, setText] = useState('')
  const [replacement, setReplacement] = useState('')
  const [exactCase, setExactCase] = useState(false)
  const [found, setFound] = useState(0)
  const input = useRef<HTMLInputElement>(null)

  useEffect(() => {
    input.current?.select()
    return () => {
      // The document may have gone first, with its screen.
      if (!view.isDestroyed) view.dispatch(setSearchState(view.state.tr, new SearchQuery({ search: '' })))
    }
  }, [view])
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
  const field = 'h-8 w-44 rounded-md border border-rule-strong bg-sheet px-2'
  return (
    <search
      className="flex flex-wrap items-center gap-2 border-b bg-paper px-3 py-1.5"
      onKeyDown={(event) => {
        if (event.key === 'Escape') {
          onClose()
          view.focus()
        }
      }}
    >
      <input
        ref={input}
        className={field}
        placeholder={t('common.find')}
        aria-label={t('common.find')}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => event.key === 'Enter' && run(event.shiftKey ? findPrev : findNext)}
      />
      <IconButton label={t('document.previous')} keys="Shift+Enter" onClick={() => run(findPrev)}>
        <ArrowUp />
      </IconButton>
      <IconButton label={t('document.next')} keys="Enter" onClick={() => run(findNext)}>
        <ArrowDown />
      </IconButton>
      <span className="w-24 text-[13px] text-soft" role="status">
        {text ? (found === 0 ? t('document.not-here') : t('document.n-found', { n: found })) : ''}
      </span>
      {editable && (
        <>
          <input
            className={field}
            placeholder={t('document.replace-with')}
            aria-label={t('document.replace-with')}
            value={replacement}
            onChange={(event) => setReplacement(event.target.value)}
            onKeyDown={(event) => event.key === 'Enter' && run(replaceNext)}
          />
          <Button disabled={found === 0} onClick={() => run(replaceNext)}>
            {t('common.replace')}
          </Button>
          <Button disabled={found === 0} onClick={() => run(replaceAll)}>
            {t('document.replace-all')}
          </Button>
        </>
      )}
      <label className="flex items-center gap-1.5 text-[13px]">
        <input
          type="checkbox"
          className="accent-accent"
          checked={exactCase}
          onChange={(event) => setExactCase(event.target.checked)}
        />
        {t('document.same-case')}
      </label>
      <IconButton
        label={t('common.close')}
        className="ml-auto"
        onClick={() => {
          onClose()
          view.focus()
        }}
      >
        <X />
      </IconButton>
    </search>
  )
}
