// How text and paragraphs look, beside the tools: fonts, sizes, colours; space and indents.
import { RemoveFormatting, Subscript, Superscript } from 'lucide-react'
import { toggleMark } from 'prosemirror-commands'
import type { Command } from 'prosemirror-state'
import type { EditorView } from 'prosemirror-view'
import { useEffect } from 'react'
import { documentSchema } from '../../../core/content/document'
import type { ParagraphLook } from '../../../core/content/paragraph-look'
import { Button } from '../../design/controls'
import { IconButton } from '../../design/icon-button'
import {
  type CommonLook,
  clearLooks,
  commonLook,
  keepSelection,
  setLook,
  setParagraphLook,
} from '../../views/document/text-look'
import { FontAndSize, fillColours, inkColours, Length, LookPanel, Swatches } from '../../views/look-fields'
import { t } from '../../words/all'
import { withControl } from '../../words/formats'

const { marks } = documentSchema

const twips = (points: number) => Math.round(points * 20)

export function LookBeside({
  view,
  look,
  paragraph,
  onClose,
}: {
  view: EditorView
  look: CommonLook
  paragraph: ParagraphLook
  onClose: () => void
}) {
  useEffect(() => {
    keepSelection(view, true)
    return () => keepSelection(view, false)
  }, [view])
  const run = (command: Command) => void command(view.state, view.dispatch, view)
  const close = () => {
    onClose()
    view.focus()
  }
  const swatches = (label: string, colours: readonly string[], trait: 'color' | 'fill') => (
    <Swatches
      label={label}
      colours={colours}
      chosen={look[trait]}
      onSet={(colour) => run(setLook({ [trait]: colour }))}
    />
  )
  const lengths = (label: string, name: 'before' | 'after' | 'left' | 'right' | 'first', least = 0) => (
    <Length
      label={label}
      least={least}
      points={paragraph[name] === undefined ? null : paragraph[name] / 20}
      onSet={(points) => run(setParagraphLook({ [name]: points === null ? undefined : twips(points) }))}
    />
  )
  const line = paragraph.line && 'share' in paragraph.line ? paragraph.line.share / 240 : null
  return (
    <LookPanel label={t('document.look-of-text')} onClose={close}>
      <FontAndSize
        font={look.font}
        size={look.size}
        sizeNow={() => commonLook(view.state).size}
        onFont={(font) => run(setLook({ font }))}
        onSize={(size) => run(setLook({ size }))}
      >
        <IconButton label={t('document.raised')} pressed={look.raised} onClick={() => run(toggleMark(marks.raised))}>
          <Superscript />
        </IconButton>
        <IconButton label={t('document.lowered')} pressed={look.lowered} onClick={() => run(toggleMark(marks.lowered))}>
          <Subscript />
        </IconButton>
      </FontAndSize>
      {swatches(t('document.text-colour'), inkColours, 'color')}
      {swatches(t('document.behind-the-text'), fillColours, 'fill')}
      <fieldset className="border-t py-3">
        <legend className="float-left mb-2 w-full text-[13px] text-soft">{t('document.of-the-paragraph')}</legend>
        <div className="clear-both grid grid-cols-2 gap-x-3 gap-y-2">
          {lengths(t('document.space-before'), 'before')}
          {lengths(t('document.space-after'), 'after')}
          {lengths(t('document.from-the-left'), 'left')}
          {lengths(t('document.from-the-right'), 'right')}
          {lengths(t('document.first-line'), 'first', -400)}
          <Length
            label={t('document.line-height')}
            least={0.7}
            most={5}
            points={line}
            onSet={(share) =>
              run(setParagraphLook({ line: share === null ? undefined : { share: Math.round(share * 240) } }))
            }
          />
        </div>
      </fieldset>
      <Button className="w-full" title={withControl('\\')} onClick={() => run(clearLooks)}>
        <RemoveFormatting size={16} aria-hidden />
        {t('document.clear-looks')}
      </Button>
    </LookPanel>
  )
}
