// How the selected cells look, beside the tools: font and size, colours, lines, where text stands, heights and widths.
import {
  AlignVerticalJustifyCenter,
  AlignVerticalJustifyEnd,
  AlignVerticalJustifyStart,
  RemoveFormatting,
  Strikethrough,
  Underline,
  WrapText,
} from 'lucide-react'
import { useState } from 'react'
import { type BorderSide, lineText } from '../../../core/content/looks'
import type { CellStyle } from '../../../core/content/workbook'
import { Choice } from '../../design/choice'
import { Button } from '../../design/controls'
import { IconButton } from '../../design/icon-button'
import { t } from '../../words/all'
import { withControl } from '../../words/formats'
import { FontAndSize, fillColours, inkColours, Length, LookPanel, Swatches } from '../look-fields'
import type { styled } from './acts'
import type { CommonLook, Lines } from './cell-looks'

const kinds = [
  ['1 solid', t('sheet.line-thin')],
  ['2 solid', t('sheet.line-stronger')],
  ['3 solid', t('sheet.line-thick')],
  ['3 double', t('sheet.line-double')],
  ['1 dashed', t('sheet.line-dashed')],
  ['1 dotted', t('sheet.line-dotted')],
] as const
type Kind = (typeof kinds)[number][0]
const which: readonly [Lines, string][] = [
  ['all', t('sheet.lines-all')],
  ['around', t('sheet.lines-around')],
  ['inside', t('sheet.lines-inside')],
  ['none', t('sheet.lines-none')],
  ['top', t('sheet.lines-top')],
  ['bottom', t('sheet.lines-bottom')],
  ['left', t('sheet.lines-left')],
  ['right', t('sheet.lines-right')],
]
const places = [
  ['top', t('sheet.at-the-top'), AlignVerticalJustifyStart],
  ['middle', t('sheet.in-the-middle'), AlignVerticalJustifyCenter],
  ['bottom', t('sheet.at-the-foot'), AlignVerticalJustifyEnd],
] as const

/** Four cells, and which of their lines are meant. */
function LinesGlyph({ of }: { of: Lines }) {
  const edge = (side: Lines) => of === 'all' || of === 'around' || of === side
  const line = (on: boolean, x1: number, y1: number, x2: number, y2: number) => (
    <line
      x1={x1}
      y1={y1}
      x2={x2}
      y2={y2}
      stroke="currentColor"
      strokeWidth={on ? 2 : 1}
      {...(!on && { strokeDasharray: '1 2', opacity: 0.6 })}
    />
  )
  return (
    <svg viewBox="0 0 18 18" aria-hidden="true">
      {line(edge('top'), 2, 3, 16, 3)}
      {line(edge('bottom'), 2, 15, 16, 15)}
      {line(edge('left'), 3, 2, 3, 16)}
      {line(edge('right'), 15, 2, 15, 16)}
      {line(of === 'all' || of === 'inside', 3, 9, 15, 9)}
      {line(of === 'all' || of === 'inside', 9, 3, 9, 15)}
    </svg>
  )
}

export function LookOfCells({
  look,
  sizeNow,
  style,
  merged,
  several,
  height,
  width,
  onStyle,
  onLines,
  onMerge,
  onHeight,
  onWidth,
  onClear,
  onClose,
}: {
  look: CommonLook
  sizeNow: () => number | null | undefined
  /** Of the cell that the cursor is in. */
  style: CellStyle
  /** There is a merged cell among them. */
  merged: boolean
  several: boolean
  /** Of the rows and columns, in points; null as is usual, undefined where they differ. */
  height: number | null | undefined
  width: number | null | undefined
  onStyle: (change: Parameters<typeof styled>[1]) => void
  onLines: (which: Lines, line: string) => void
  onMerge: (merge: boolean) => void
  onHeight: (points: number | null) => void
  onWidth: (points: number | null) => void
  onClear: () => void
  onClose: () => void
}) {
  const [kind, setKind] = useState<Kind>('1 solid')
  const [colour, setColour] = useState<string | null>(null)
  const [thick, line] = kind.split(' ') as [string, BorderSide['line']]
  const lines = lineText({ width: Number(thick) as BorderSide['width'], line, color: colour })
  return (
    <LookPanel label={t('sheet.look-of-cells')} onClose={onClose}>
      <FontAndSize
        font={look.font}
        size={look.size}
        sizeNow={sizeNow}
        none={t('sheet.usual')}
        onFont={(font) => onStyle({ font: font ?? undefined })}
        onSize={(size) => onStyle({ size: size ?? undefined })}
      >
        <IconButton
          label={t('document.underline')}
          pressed={!!style.underline}
          onClick={() => onStyle({ underline: style.underline ? undefined : true })}
        >
          <Underline />
        </IconButton>
        <IconButton
          label={t('document.strike-through')}
          pressed={!!style.strike}
          onClick={() => onStyle({ strike: style.strike ? undefined : true })}
        >
          <Strikethrough />
        </IconButton>
      </FontAndSize>
      <Swatches
        label={t('document.text-colour')}
        colours={inkColours}
        chosen={look.color}
        onSet={(color) => onStyle({ color: color ?? undefined })}
      />
      <Swatches
        label={t('document.behind-the-text')}
        colours={fillColours}
        chosen={look.fill}
        onSet={(fill) => onStyle({ fill: fill ?? undefined })}
      />
      <fieldset className="border-t py-3">
        <legend className="float-left mb-2 w-full text-[13px] text-soft">{t('sheet.lines')}</legend>
        <div className="clear-both flex items-end gap-2 [&_label]:flex-1">
          <Choice label={t('sheet.line-kind')} value={kind} choices={kinds} onChange={setKind} small />
          <input
            type="color"
            className="h-8 w-9 rounded border border-rule-strong bg-sheet"
            aria-label={t('sheet.line-colour')}
            value={colour ?? '#1f2729'}
            onChange={(event) => setColour(event.target.value.toLowerCase())}
          />
        </div>
        <div className="mt-2 grid grid-cols-4 gap-1">
          {which.map(([of, label]) => (
            <IconButton
              key={of}
              label={label}
              className="w-full"
              disabled={of === 'inside' && !several}
              onClick={() => onLines(of, lines)}
            >
              <LinesGlyph of={of} />
            </IconButton>
          ))}
        </div>
      </fieldset>
      <fieldset className="border-t py-3">
        <legend className="float-left mb-2 w-full text-[13px] text-soft">{t('sheet.in-the-cell')}</legend>
        <div className="clear-both flex flex-wrap items-center gap-1">
          {places.map(([vertical, label, Icon]) => (
            <IconButton
              key={vertical}
              label={label}
              pressed={(look.vertical ?? (look.vertical === null ? 'bottom' : '')) === vertical}
              onClick={() => onStyle({ vertical: vertical === 'bottom' ? undefined : vertical })}
            >
              <Icon />
            </IconButton>
          ))}
          <IconButton
            label={t('sheet.wrap-into-lines')}
            pressed={look.wrap}
            onClick={() => onStyle({ wrap: look.wrap ? undefined : true })}
          >
            <WrapText />
          </IconButton>
        </div>
        {(several || merged) && (
          <Button className="mt-2 w-full" onClick={() => onMerge(!merged)}>
            {merged ? t('sheet.divide-again') : t('sheet.make-one-cell')}
          </Button>
        )}
      </fieldset>
      <fieldset className="border-t py-3">
        <legend className="float-left mb-2 w-full text-[13px] text-soft">
          {t('sheet.rows-and-columns-in-points')}
        </legend>
        <div className="clear-both grid grid-cols-2 gap-x-3">
          <Length
            label={t('sheet.row-height')}
            least={2}
            most={400}
            points={height ?? null}
            none={height === undefined ? '…' : t('sheet.as-needed')}
            onSet={onHeight}
          />
          <Length
            label={t('sheet.column-width')}
            least={6}
            most={675}
            points={width ?? null}
            none={width === undefined ? '…' : t('sheet.usual')}
            onSet={onWidth}
          />
        </div>
      </fieldset>
      <Button className="w-full" title={withControl('\\')} onClick={onClear}>
        <RemoveFormatting size={16} aria-hidden />
        {t('sheet.clear-looks')}
      </Button>
    </LookPanel>
  )
}
