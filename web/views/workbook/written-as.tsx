// How separated values are written: it is what their numbers and dates mean, and how they are saved.
import type { CsvDialect } from '../../../core/formats/csv/dialect'
import { t } from '../../words/all'

/** Encodings as they are called everywhere, with whose letters they have. */
export const encodingNames: Record<CsvDialect['encoding'], string> = {
  'utf-8': 'UTF-8',
  'utf-8 with a mark': 'UTF-8',
  'utf-16le': 'UTF-16',
  'utf-16be': 'UTF-16',
  'windows-1252': 'Windows-1252',
  'windows-1250': 'Windows-1250',
  'windows-1251': 'Windows-1251',
  'windows-1253': 'Windows-1253',
  'windows-1254': 'Windows-1254',
  'windows-1257': 'Windows-1257',
  'iso-8859-2': 'ISO 8859-2',
  'iso-8859-15': 'ISO 8859-15',
  macintosh: 'Macintosh',
  ibm866: 'IBM 866',
}
const separators = { ',': 'comma', ';': 'semicolon', '\t': 'tab', '|': 'bar' } as const

export const writtenAs = ({ separator, decimal, dates, encoding }: CsvDialect): string =>
  t('sheet.written-as', {
    separator: separators[separator],
    decimal: decimal === ',' ? 'comma' : 'point',
    dates,
    encoding: encodingNames[encoding],
  })

/** @param onChange says it otherwise; absent where it is only told */
export function WrittenAs({ dialect, onChange }: { dialect: CsvDialect; onChange?: (() => void) | undefined }) {
  const look = 'min-w-0 self-center truncate ml-4 text-[13px] text-soft'
  return onChange ? (
    <button
      type="button"
      className={`${look} underline decoration-rule-strong underline-offset-2 hover:text-ink`}
      title={t('sheet.say-how-it-is-written')}
      onClick={onChange}
      data-testid="written-as"
    >
      {writtenAs(dialect)}
    </button>
  ) : (
    <span className={look} title={t('sheet.written-again')} data-testid="written-as">
      {writtenAs(dialect)}
    </span>
  )
}
