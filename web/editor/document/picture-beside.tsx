// The picture that is selected, beside the tools: what it shows, for whoever cannot see it, and how large it is.
import { NodeSelection } from 'prosemirror-state'
import type { EditorView } from 'prosemirror-view'
import { useEffect, useId, useRef, useState } from 'react'
import { a4, type Page } from '../../../core/content/document'
import { Button } from '../../design/controls'
import { Length, LookPanel } from '../../views/look-fields'
import { t } from '../../words/all'
import type { PictureState } from './tools'

const pixelsPerCentimetre = 96 / 2.54
const twipsPerPixel = 15
/** Centimetres. */
const largest = 55

export function PictureBeside({
  view,
  picture,
  onClose,
}: {
  view: EditorView
  picture: PictureState
  onClose: () => void
}) {
  const id = useId()
  const [proportions, setProportions] = useState(true)
  const [typed, setTyped] = useState<string | null>(null)
  const set = (attrs: Partial<PictureState>) => {
    const { selection, tr } = view.state
    if (!(selection instanceof NodeSelection) || selection.node.type.name !== 'image') return
    const next = { ...selection.node.attrs, ...attrs }
    if (Object.entries(attrs).every(([name, value]) => selection.node.attrs[name] === value)) return
    tr.setNodeMarkup(selection.from, null, next)
    view.dispatch(tr.setSelection(NodeSelection.create(tr.doc, selection.from)))
  }
  const { width, height, alt } = picture
  const takeWords = () => {
    if (typed !== null) set({ alt: typed.replace(/\s+/g, ' ').trim() })
    setTyped(null)
  }
  // What was typed is taken also where the panel goes because something else was selected.
  const left = useRef(takeWords)
  left.current = takeWords
  useEffect(() => () => left.current(), [])
  const sized = (side: 'width' | 'height', centimetres: number | null) => {
    if (centimetres === null) return
    const pixels = Math.max(1, Math.round(centimetres * pixelsPerCentimetre))
    const other = side === 'width' ? height : width
    const share = pixels / (side === 'width' ? width : height)
    const follows = Math.max(1, Math.round(other * share))
    set(
      side === 'width'
        ? { width: pixels, height: proportions ? follows : height }
        : { height: pixels, width: proportions ? follows : width },
    )
  }
  const natural = () => {
    const image = view.nodeDOM(view.state.selection.from)
    const shown = image instanceof HTMLElement ? image.querySelector('img') : null
    if (shown?.naturalWidth) set({ width: shown.naturalWidth, height: shown.naturalHeight })
  }
  const page: Page = view.state.doc.attrs.page ?? a4
  const textWidth = Math.round((page.width - page.left - page.right) / twipsPerPixel)
  return (
    <LookPanel
      label={t('document.the-picture')}
      onClose={() => {
        takeWords()
        onClose()
        view.focus()
      }}
    >
      <label htmlFor={`${id}-shows`} className="mb-1 block text-[13px] text-soft">
        {t('document.what-it-shows')}
      </label>
      <textarea
        id={`${id}-shows`}
        data-first
        aria-describedby={`${id}-why`}
        rows={4}
        maxLength={2000}
        className="w-full rounded-md border border-rule-strong bg-sheet px-2.5 py-1.5"
        value={typed ?? alt}
        onFocus={(event) => event.target.select()}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={takeWords}
        onKeyDown={(event) => {
          if (event.key !== 'Enter' || event.shiftKey) return
          event.preventDefault()
          takeWords()
        }}
      />
      <p id={`${id}-why`} className="pb-3 text-[13px] leading-[17px] text-soft">
        {t('document.what-it-shows-is-for')}
      </p>
      <fieldset className="border-t py-3">
        <legend className="float-left mb-2 w-full text-[13px] text-soft">{t('document.picture-size')}</legend>
        <div className="clear-both grid grid-cols-2 gap-x-3 gap-y-2">
          {(['width', 'height'] as const).map((side) => (
            <Length
              key={side}
              label={t(side === 'width' ? 'document.picture-width' : 'document.picture-height')}
              least={0.1}
              most={largest}
              points={Math.round(((side === 'width' ? width : height) / pixelsPerCentimetre) * 10) / 10}
              onSet={(centimetres) => sized(side, centimetres)}
            />
          ))}
        </div>
        <label className="flex items-center gap-2 pt-3">
          <input
            type="checkbox"
            className="size-4 accent-[var(--accent)]"
            checked={proportions}
            onChange={(event) => setProportions(event.target.checked)}
          />
          {t('document.keep-its-proportions')}
        </label>
      </fieldset>
      <div className="flex flex-col gap-2">
        <Button onClick={natural}>{t('document.picture-as-it-came')}</Button>
        <Button
          onClick={() => set({ width: textWidth, height: Math.max(1, Math.round((height * textWidth) / width)) })}
        >
          {t('document.picture-as-wide-as-the-text')}
        </Button>
      </div>
    </LookPanel>
  )
}
