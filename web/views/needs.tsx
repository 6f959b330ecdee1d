// Types by what they are good for.
import { Choice } from '../design/choice'
import { t } from '../words/all'

/** What each type is good for. */
const needs: Record<string, () => string> = {
  docx: () => t('slip.for-going-on'),
  xlsx: () => t('slip.for-going-on'),
  odt: () => t('slip.for-open-programs'),
  ods: () => t('slip.for-open-programs'),
  rtf: () => t('slip.for-older-documents'),
  html: () => t('slip.for-a-web-page'),
  md: () => t('slip.for-marked-text'),
  xls: () => t('slip.for-older'),
  txt: () => t('slip.for-any-program'),
  pdf: () => t('slip.for-reading'),
  csv: () => t('slip.for-rows'),
  tsv: () => t('slip.for-rows-by-tabs'),
}
/** What a type is good for, with its ending. */
export const needOf = (type: string): string => `${(needs[type] ?? (() => t('slip.for-the-same')))()} (.${type})`
/** Stands for a spreadsheet with lists beside it. */
export const withLists = 'with lists'

/** Stands for a file with a PDF beside it. */
export const withPdf = 'with a PDF'

/** Asks what a file is for, and means its type. */
export const NeedsOf = ({
  types,
  value,
  onChange,
  beside,
  pdfBeside,
}: {
  types: readonly string[]
  value: string
  onChange: (type: string) => void
  /** A type that can be had with lists of its values beside it. */
  beside?: string | undefined
  /** A type that can be had with a PDF beside it. */
  pdfBeside?: string | undefined
}) => (
  <Choice
    label={t('slip.what-for')}
    value={value}
    choices={[
      ...types.map((type) => [type, needOf(type)] as const),
      ...(beside ? [[withLists, `${t('slip.for-both')} (.${beside} + .csv)`] as const] : []),
      ...(pdfBeside ? [[withPdf, `${t('slip.for-both-and-pdf')} (.${pdfBeside} + .pdf)`] as const] : []),
    ]}
    onChange={onChange}
  />
)
