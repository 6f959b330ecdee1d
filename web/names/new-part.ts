// What a part of each kind begins as.
import type { ControlledList, NamePart, PartKind } from '../../core/contract'
import { t } from '../words/all'
import { kindNames } from './part-editor'

export function newPart(kind: PartKind, id: string, lists: readonly ControlledList[]): NamePart {
  const facts = { id, label: kindNames[kind], separator: '_', optional: false }
  switch (kind) {
    case 'text':
      return { ...facts, kind, text: t('common.text') }
    case 'date':
      return { ...facts, kind, form: 'YYYY-MM-DD', source: 'content' }
    case 'list':
      return { ...facts, kind, listId: lists[0]?.id ?? '00000000-0000-4000-8000-000000000000', shows: 'code' }
    case 'words':
      return { ...facts, kind, letters: 'as typed', longest: 60, symbols: 'letters and digits', spaces: '-' }
    case 'counter':
      return { ...facts, kind, width: 3, start: 1, per: 'folder' }
    case 'initials':
      return { ...facts, kind }
    case 'file kind':
      return {
        ...facts,
        kind,
        words: { document: t('names.doc'), spreadsheet: t('names.sheet'), other: t('common.file') },
      }
  }
}
