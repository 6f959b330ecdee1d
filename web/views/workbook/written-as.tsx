// How separated values are written, as it was recognised: it is what their numbers and dates mean, and how they are saved.
import type { CsvDialect } from '../../../core/formats/csv/dialect'
import { t } from '../../words/all'

const encodings: Record<CsvDialect['encoding'], string> = {
  'utf-8': 'UTF-8',
  'utf-8 with a mark': 'UTF-8',
  'utf-16le': 'UTF-16',
  'utf-16be': 'UTF-16',
  'windows-1252': 'Windows-1252',
}
const separators = { ',': 'comma', ';': 'semicolon', '\t': 'tab', '|': 'bar' } as const

export function WrittenAs({ dialect: { separator, decimal, dates, encoding } }: { dialect: CsvDialect }) {
  return (
    <span
      className="shrink-0 self-center whitespace-nowrap pl-4 text-[13px] text-soft"
      title={t('sheet.written-again')}
      data-testid="written-as"
    >
      {t('sheet.written-as', {
        separator: separators[separator],
        decimal: decimal === ',' ? 'comma' : 'point',
        dates,
        encoding: encodings[encoding],
      })}
    </span>
  )
}
