import clsx from 'clsx'
import { FileText, Folder, Paperclip, Table2 } from 'lucide-react'
import { fileType } from '../../core/formats/types'

/** The glyph of a kind of file: plum for documents, ochre for spreadsheets. */
export function KindGlyph({ type, folder, size = 18 }: { type: string; folder?: boolean; size?: number }) {
  if (folder) return <Folder size={size} className="shrink-0 text-soft" aria-label="Folder" />
  const { kind } = fileType(type)
  if (kind === 'document') return <FileText size={size} className="shrink-0 text-plum" aria-label="Document" />
  if (kind === 'spreadsheet') return <Table2 size={size} className="shrink-0 text-ochre" aria-label="Spreadsheet" />
  return <Paperclip size={size} className="shrink-0 text-soft" aria-label="File" />
}

/** A name with its parts told apart and its extension held back. */
export function NameParts({ name, className }: { name: string; className?: string }) {
  const dot = /\.[a-z0-9]{1,12}$/i.exec(name)?.[0] ?? ''
  const parts = name.slice(0, name.length - dot.length).split('_')
  return (
    <span className={clsx('whitespace-pre', className)} title={name}>
      {parts.map((part, index) => (
        <span key={index}>
          {index > 0 && <span className="mx-px text-rule-strong">_</span>}
          {part}
        </span>
      ))}
      {dot && <span className="text-soft">{dot}</span>}
    </span>
  )
}
