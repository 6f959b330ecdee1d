// The filing rule: folder by folder, of which parts' values each is named.
import clsx from 'clsx'
import { Plus, Trash2 } from 'lucide-react'
import type { FolderPiece, Rules } from '../../core/contract'
import { Button } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { t } from '../words/all'
import { control } from './part-editor'

const pieceKey = (piece: FolderPiece) => ('text' in piece ? 'text' : `${piece.part} ${piece.as}`)

export function FolderRule({ rules, onChange }: { rules: Rules; onChange: (rules: Rules) => void }) {
  const choices: [string, string][] = [
    ['text', t('names.fixed-text-2')],
    ...rules.parts.flatMap((part): [string, string][] =>
      part.kind === 'text'
        ? []
        : part.kind === 'date'
          ? [
              [`${part.id} year`, t('names.year-of', { partLabel: part.label })],
              ...(part.form === 'YYYY' || part.form.startsWith('YYYY-W') || part.form.startsWith('YYYY-Q')
                ? []
                : [[`${part.id} month`, t('names.month-of', { partLabel: part.label })] as [string, string]]),
              [`${part.id} name`, part.label],
            ]
          : part.kind === 'list'
            ? [
                [`${part.id} name`, part.label],
                [`${part.id} label`, t('names.label-of', { partLabel: part.label })],
              ]
            : [[`${part.id} name`, part.label]],
    ),
  ]
  const pieceOf = (key: string): FolderPiece => {
    const [part, as] = key.split(' ') as [string, 'name' | 'year' | 'month' | 'label']
    return key === 'text' ? { text: t('common.folder') } : { part, as }
  }
  const setLevel = (level: number, pieces: FolderPiece[]) =>
    onChange({
      ...rules,
      folders: pieces.length
        ? rules.folders.map((one, at) => (at === level ? pieces : one))
        : rules.folders.filter((_, at) => at !== level),
    })
  return (
    <ol className="flex flex-col gap-2">
      {rules.folders.map((pieces, level) => (
        <li
          key={level}
          className="flex flex-wrap items-center gap-2 rounded-md border bg-paper px-3 py-2"
          style={{ marginLeft: level * 18 }}
        >
          {pieces.map((piece, index) => (
            <span key={index} className="flex items-center gap-1">
              <select
                aria-label={t('names.folder-piece', { it: level + 1, it2: index + 1 })}
                className={control}
                value={pieceKey(piece)}
                onChange={(event) =>
                  setLevel(
                    level,
                    pieces.map((one, at) => (at === index ? pieceOf(event.target.value) : one)),
                  )
                }
              >
                {!choices.some(([key]) => key === pieceKey(piece)) && (
                  <option value={pieceKey(piece)}>{t('names.a-part-that-is-gone')}</option>
                )}
                {choices.map(([key, words]) => (
                  <option key={key} value={key}>
                    {words}
                  </option>
                ))}
              </select>
              {'text' in piece && (
                <input
                  aria-label={t('names.text-of-folder', { it: level + 1 })}
                  className={clsx(control, 'w-28')}
                  value={piece.text}
                  onChange={(event) =>
                    setLevel(
                      level,
                      pieces.map((one, at) => (at === index ? { text: event.target.value } : one)),
                    )
                  }
                />
              )}
            </span>
          ))}
          <IconButton
            label={t('names.another-piece-in-folder', { it: level + 1 })}
            className="size-7"
            onClick={() => setLevel(level, [...pieces, { text: ' ' }])}
          >
            <Plus />
          </IconButton>
          <IconButton
            label={t('names.remove-folder', { it: level + 1 })}
            className="ml-auto size-7"
            onClick={() => setLevel(level, pieces.slice(0, -1))}
          >
            <Trash2 />
          </IconButton>
        </li>
      ))}
      <li style={{ marginLeft: rules.folders.length * 18 }}>
        <Button
          onClick={() => onChange({ ...rules, folders: [...rules.folders, [pieceOf(choices[1]?.[0] ?? 'text')]] })}
        >
          <Plus size={16} aria-hidden />
          {rules.folders.length ? t('names.a-folder-in-it') : t('names.add-a-folder')}
        </Button>
      </li>
    </ol>
  )
}
