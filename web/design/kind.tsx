import clsx from 'clsx'
import { FileText, Folder, Paperclip, Table2 } from 'lucide-react'
import { Fragment } from 'react'
import { fileType } from '../../core/formats/types'
import { t } from '../words'

/** The glyph of a kind of file: plum for documents, ochre for spreadsheets. */
export function KindGlyph({ type, folder, size = 18 }: { type: string; folder?: boolean; size?: number }) {
  if (folder) return <Folder size={size} className="shrink-0 text-soft" aria-label={t('common.folder')} />
  const { kind } = fileType(type)
  if (kind === 'document')
    return <FileText size={size} className="shrink-0 text-plum" aria-label={t('common.document')} />
  if (kind === 'spreadsheet')
    return <Table2 size={size} className="shrink-0 text-ochre" aria-label={t('common.spreadsheet')} />
  return <Paperclip size={size} className="shrink-0 text-soft" aria-label={t('common.file')} />
}

/** A name with its parts told apart and its extension held back. */
export function NameParts({ name, className }: { name: string; className?: string }) {
  const dot = /\.[a-z0-9]{1,12}$/i.exec(name)?.[0] ?? ''
  const parts = name.slice(0, name.length - dot.length).split('_')
  return (
    <span className={clsx('whitespace-pre', className)} title={name}>
      {parts.map((part, index) => (
        <Fragment key={index}>
          {index > 0 && <span className="mx-px text-rule-strong">_</span>}
          {part}
        </Fragment>
      ))}
      {dot && <span className="text-soft">{dot}</span>}
    </span>
  )
}

/** A name that may take several lines: it breaks after its separators, and inside a part only where the part alone is too long. */
export function NameText({ name, className }: { name: string; className?: string }) {
  return (
    <bdi className={clsx('font-mono', className)}>
      {name.split(/(?<=[_ ])/).map((piece, index) => (
        <span key={index} className="inline-block max-w-full whitespace-pre-wrap break-words">
          {piece.length <= 24 ? <span className="whitespace-pre">{piece}</span> : piece}
        </span>
      ))}
    </bdi>
  )
}
