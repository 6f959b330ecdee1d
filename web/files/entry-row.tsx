// One row of a folder's list.
import clsx from 'clsx'
import { Download } from 'lucide-react'
import { memo, useRef, useState } from 'react'
import { Link } from 'react-router'
import type { Entry } from '../../core/contract'
import { fileType } from '../../core/formats/types'
import { splitExtension } from '../../core/naming/check'
import type { ReadyConvention } from '../../core/naming/convention'
import { addressOf } from '../api/call'
import { KindGlyph, NameParts } from '../design/kind'
import { t, told } from '../words'
import { moment, size } from '../words/formats'
import { addressOfEntry } from './address'
import { type Column, rowGrid } from './columns'
import { useDrag, useDrop } from './dragging'
import { RenameField } from './rename-field'

/** The kind in one word; the ending, which says which program's it is, stands in the name. */
const shortType = (type: string): string => {
  const { kind, label } = fileType(type)
  return kind === 'other' ? told(label) : kind === 'document' ? t('common.document') : t('common.spreadsheet')
}

export interface RowActs {
  press: (event: React.PointerEvent, entry: Entry, index: number) => void
  end: () => void
}

/** What stands in a column of a row. */
const cell: Record<Column, (entry: Entry) => string> = {
  type: (entry) => (entry.kind === 'folder' ? t('files.items', { it: entry.children ?? 0 }) : shortType(entry.type)),
  size: ({ head }) => (head ? size(head.size) : ''),
  saved: ({ head }) => (head ? moment(head.at) : ''),
  by: ({ head }) => head?.author.name ?? '',
  version: ({ head }) => (head ? String(head.number) : ''),
}

export const Row = memo(function Row({
  entry,
  index,
  start,
  here,
  isChosen,
  ready,
  mayEdit,
  isRenamed,
  columns,
  template,
  acts,
}: {
  entry: Entry | undefined
  index: number
  start: number
  here: boolean
  isChosen: boolean
  ready: readonly ReadyConvention[] | null
  mayEdit: boolean
  isRenamed: boolean
  columns: readonly Column[]
  template: string
  acts: RowActs
}) {
  const element = useRef<HTMLDivElement>(null)
  // Every element of a row costs while the list runs by: what only the pointer needs comes with the pointer.
  const [under, setUnder] = useState(false)
  useDrag(element, mayEdit && !isRenamed ? entry : undefined)
  const over = useDrop(
    element,
    mayEdit && entry?.kind === 'folder' && !isChosen
      ? { shareId: entry.shareId, folderId: entry.id, name: entry.name }
      : null,
  )
  if (!entry)
    return (
      <div
        style={{ transform: `translateY(${start}px)`, gridTemplateColumns: template }}
        className={clsx(rowGrid, 'absolute inset-x-0 h-10 border-b px-2')}
        role="row"
        aria-busy
      >
        <span />
        <span className="h-3 w-1/2 rounded bg-rule/60" />
      </div>
    )
  const follows = entry.kind === 'folder' || !ready || ready.some((one) => one.parse(splitExtension(entry.name)[0]))
  return (
    <div
      ref={element}
      id={`entry-${entry.id}`}
      role="row"
      aria-rowindex={index + 2}
      aria-selected={isChosen || here}
      style={{ transform: `translateY(${start}px)`, gridTemplateColumns: template }}
      className={clsx(
        rowGrid,
        'absolute inset-x-0 h-10 border-b px-2 [contain:layout_style]',
        isChosen ? 'bg-wash shadow-[inset_3px_0_0_var(--accent)]' : here && 'bg-wash/60 [[role=grid]:focus_&]:bg-wash',
        over && 'outline-2 -outline-offset-2 outline-accent',
      )}
      onPointerDown={(event) => acts.press(event, entry, index)}
      onPointerEnter={() => setUnder(true)}
      onPointerLeave={() => setUnder(false)}
    >
      <span role="gridcell">
        <KindGlyph type={entry.type} folder={entry.kind === 'folder'} />
      </span>
      <span role="gridcell" className="flex min-w-0 items-center gap-2">
        {isRenamed ? (
          <RenameField entry={entry} onEnd={acts.end} />
        ) : (
          <>
            <Link
              tabIndex={-1}
              to={addressOfEntry(entry)}
              draggable={false}
              className="truncate hover:underline"
              onClick={(event) => (event.shiftKey || event.ctrlKey || event.metaKey) && event.preventDefault()}
            >
              <NameParts name={entry.name} className={entry.kind === 'file' ? 'font-mono text-[14px]' : ''} />
            </Link>
            {!follows && (
              <span
                className="size-2 shrink-0 rounded-full bg-ochre"
                title={t('files.this-name-does-not-follow-the-convention')}
              >
                <span className="sr-only">{t('files.does-not-follow-the-convention')}</span>
              </span>
            )}
          </>
        )}
      </span>
      {columns.map((column) => (
        <span
          key={column}
          role="gridcell"
          className={clsx('truncate text-[14px] text-soft', column === 'size' && 'text-right')}
        >
          {cell[column](entry)}
        </span>
      ))}
      {entry.head && (under || here) && (
        <span role="gridcell">
          <a
            href={addressOf('bytes', { params: { versionId: entry.head.id } })}
            download
            draggable={false}
            tabIndex={-1}
            aria-label={t('files.download', { entryName: entry.name })}
            className={clsx(
              'grid size-8 place-items-center rounded-md hover:bg-wash',
              !under && 'opacity-0 focus:opacity-100',
            )}
          >
            <Download size={16} />
          </a>
        </span>
      )}
    </div>
  )
})
