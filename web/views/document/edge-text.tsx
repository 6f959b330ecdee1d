// The text of one head or foot: a small editor of its own, whose steps are steps of the document that holds it.
import { redoNoScroll, undoNoScroll } from 'prosemirror-history'
import { EditorState } from 'prosemirror-state'
import { EditorView } from 'prosemirror-view'
import { type ReactNode, type RefObject, useEffect, useRef, useState } from 'react'
import { toast } from 'sonner'
import { documentSchema } from '../../../core/content/document'
import { EdgeStep } from '../../../core/content/edge-step'
import { type PageEdge, storyOf } from '../../../core/content/edges'
import { fieldCodes, type PageField } from '../../../core/content/fields'
import { keptField } from '../../../core/formats/docx/fields'
import type { StyleLook } from '../../../core/formats/docx/style-looks'
import { t } from '../../words/all'
import type { PageFacts } from './fields'
import { caretKeptUp, keptParser, keptSerializer, keptView, refreshFields, tellsWhatGoes } from './kept'
import { edgePlugins } from './plugins'
import { besideMeta, Phrases } from './undo'

/** What came from the document, and is in it already. */
const taken = 'taken'
/** A step of undo of its own. */
const apart = 'apart'

export function EdgeText({
  shown,
  facts,
  looks,
  editable,
  main,
  onActive,
  focus,
  onFocused,
  tools,
}: {
  shown: PageEdge
  facts: PageFacts
  looks: readonly StyleLook[]
  editable: boolean
  main: RefObject<EditorView | null>
  onActive?: ((view: EditorView | null) => void) | undefined
  /** It is to have the caret. */
  focus: boolean
  onFocused: () => void
  tools: (view: { insert(field: PageField): void; focus(): void }) => ReactNode
}) {
  const host = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView | null>(null)
  const now = useRef({ facts, looks, onActive })
  now.current = { facts, looks, onActive }
  const [written, setWritten] = useState(false)
  const { edge, on } = shown

  // biome-ignore lint/correctness/useExhaustiveDependencies: one view for an edge as long as it may be written in; what it says comes by the effect below
  useEffect(() => {
    const phrases = new Phrases()
    const own = new EditorView(host.current!, {
      state: EditorState.create({
        doc: storyOf(shown),
        plugins: editable
          ? [
              caretKeptUp,
              ...edgePlugins(
                {
                  undo: () => !!main.current && undoNoScroll(main.current.state, main.current.dispatch),
                  redo: () => !!main.current && redoNoScroll(main.current.state, main.current.dispatch),
                  leave: () => {
                    main.current?.focus()
                    return true
                  },
                },
                () => now.current.looks,
              ),
              tellsWhatGoes((sentence) => toast(sentence)),
            ]
          : [],
      }),
      editable: () => editable,
      nodeViews: { kept: keptView(editable, () => now.current.facts) },
      clipboardSerializer: keptSerializer,
      clipboardParser: keptParser,
      attributes: {
        class: 'page-text',
        role: 'textbox',
        'aria-multiline': 'true',
        'aria-label': t(edge === 'head' ? 'document.page-head' : 'document.page-foot'),
        ...(!editable && { 'aria-readonly': 'true' }),
        spellcheck: String(editable),
      },
      dispatchTransaction(transaction) {
        const before = own.state
        const begins = transaction.docChanged && (phrases.begins(before, transaction) || transaction.getMeta(apart))
        const { state, transactions } = before.applyTransaction(transaction)
        own.updateState(state)
        const steps = transactions.flatMap((one) => one.steps)
        if (steps.length && !transaction.getMeta(taken) && main.current) {
          const change = main.current.state.tr
          for (const step of steps) change.step(new EdgeStep({ edge, on }, step))
          main.current.dispatch(change.setMeta(besideMeta, { begins }))
        }
        if (own.hasFocus()) now.current.onActive?.(own)
      },
      handleDOMEvents: {
        focus: () => {
          setWritten(true)
          now.current.onActive?.(own)
          return false
        },
      },
    })
    view.current = own
    return () => {
      // An edge that is undone, or gives its place to another one, leaves the keyboard in the document.
      if (own.hasFocus()) {
        now.current.onActive?.(null)
        main.current?.focus()
      }
      view.current = null
      own.destroy()
    }
  }, [editable, edge, on])

  // What was undone, or came from elsewhere, with the caret where it was.
  useEffect(() => {
    const own = view.current
    if (!own) return
    const story = storyOf(shown)
    const from = own.state.doc.content.findDiffStart(story.content)
    if (from === null) return
    const ends = own.state.doc.content.findDiffEnd(story.content)!
    const overlap = Math.max(0, from - Math.min(ends.a, ends.b))
    own.dispatch(own.state.tr.replace(from, ends.a + overlap, story.slice(from, ends.b + overlap)).setMeta(taken, true))
  }, [shown])

  // biome-ignore lint/correctness/useExhaustiveDependencies: when other facts are known
  useEffect(() => {
    if (view.current) refreshFields(view.current.dom, facts)
  }, [facts.name, facts.version])

  useEffect(() => {
    if (!focus || !view.current) return
    view.current.focus()
    onFocused()
  }, [focus, onFocused])

  const insert = (field: PageField) => {
    const own = view.current
    if (!own) return
    const node = documentSchema.nodes.kept.create(keptField(fieldCodes[field], ''))
    const marks = own.state.storedMarks ?? own.state.selection.$from.marks()
    own.dispatch(own.state.tr.replaceSelectionWith(node.mark(marks), false).scrollIntoView().setMeta(apart, true))
    own.focus()
  }
  return (
    <div
      role="group"
      className="page-edge-text"
      onBlur={(event) => {
        // Its tools are a part of it.
        const to = event.relatedTarget
        if (to instanceof Element && (event.currentTarget.contains(to) || to.closest('[role="menu"]'))) return
        setWritten(false)
        now.current.onActive?.(null)
      }}
    >
      <div ref={host} className="ProseMirror-host" />
      {editable && written && tools({ insert, focus: () => view.current?.focus() })}
    </div>
  )
}
