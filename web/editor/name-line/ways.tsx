// How a type is written, where that can be chosen: what stands between the values of a list, which letters a text has.
import { useQuery } from '@tanstack/react-query'
import { textEncodings } from '../../../core/formats/text/write'
import { isCsv, isText } from '../../../core/formats/types'
import { keys } from '../../api/keys'
import { Choice } from '../../design/choice'
import { encodingNames } from '../../views/workbook/written-as'
import { t } from '../../words/all'
import type { ListWay, WrittenType } from '../../work/content'
import { GuardBox } from '../workbook/side-lists'
import type { SlipBeginning } from './use-slip'

const asItIs = 'as it is'
const encodings = () =>
  [
    ['utf-8', t('slip.utf-8')],
    ['utf-8 with a mark', t('slip.utf-8-with-a-mark')],
    ['utf-16le', t('slip.utf-16')],
    ['windows-1252', t('slip.windows-1252')],
  ] satisfies [(typeof textEncodings)[number], string][]
const ends = () =>
  [
    ['\n', t('slip.ends-plain')],
    ['\r\n', t('slip.ends-of-two')],
  ] as const

export function Ways({
  as,
  own,
  values,
  textWay,
  onChange,
}: {
  as: WrittenType
  /** The type of the work. */
  own: string
  /** Formulas can be written as their results. */
  values: boolean
  textWay: NonNullable<SlipBeginning['as']>['textWay']
  onChange: (as: WrittenType) => void
}) {
  if (isText(as.type)) return <TextWays as={as} isNew={as.type !== own} textWay={textWay} onChange={onChange} />
  if (isCsv(as.type)) return as.type === own ? null : <ListWays as={as} onChange={onChange} />
  if (!values || as.beside) return null
  const { values: _, ...rest } = as
  return (
    <label className="mt-2 flex min-h-7 items-center gap-2 text-[13px]">
      <input
        type="checkbox"
        className="size-4 shrink-0 accent-accent"
        checked={!!as.values}
        onChange={(event) => onChange(event.target.checked ? { ...rest, values: true } : rest)}
      />
      {t('slip.results-in-place')}
    </label>
  )
}

function TextWays({
  as,
  isNew,
  textWay,
  onChange,
}: {
  as: WrittenType
  isNew: boolean
  textWay: NonNullable<SlipBeginning['as']>['textWay']
  onChange: (as: WrittenType) => void
}) {
  const say = (part: NonNullable<WrittenType['text']>) => {
    const { text: _, ...rest } = as
    const text = { ...as.text, ...part }
    const said = Object.fromEntries(Object.entries(text).filter(([, value]) => value !== undefined))
    onChange({ ...rest, ...(Object.keys(said).length > 0 && { text: said }) })
  }
  const written = useQuery({ queryKey: keys.textWay(as.type), queryFn: textWay, enabled: !isNew, gcTime: 0 }).data
  const kept = (what: string | null | undefined) =>
    isNew ? [] : [[asItIs, what ? t('slip.as-in-the-file', { what }) : t('slip.as-it-was')] as const]
  const end = written && ({ '\r\n': 'crlf', '\r': 'cr', '\n': 'lf' } as const)[written.end]
  return (
    <div className="mt-2 flex flex-wrap gap-2">
      <Choice
        label={t('slip.letters')}
        value={as.text?.encoding ?? (isNew ? 'utf-8' : asItIs)}
        choices={[...kept(written && encodingNames[written.encoding]), ...encodings()]}
        onChange={(encoding) => say({ encoding: textEncodings.find((one) => one === encoding) })}
      />
      <Choice
        label={t('slip.ends-of-lines')}
        value={as.text?.end ?? (isNew ? '\n' : asItIs)}
        choices={[...kept(end && t('slip.ends-named', { end })), ...ends()]}
        onChange={(end) => say({ end: ends().find(([one]) => one === end)?.[0] })}
      />
    </div>
  )
}

function ListWays({ as, onChange }: { as: WrittenType; onChange: (as: WrittenType) => void }) {
  const say = (part: ListWay) => onChange({ ...as, list: { ...as.list, ...part } })
  const { separator = ',', decimal = '.', encoding = 'utf-8', guarded } = as.list ?? {}
  return (
    <>
      <div className="mt-2 flex flex-wrap gap-2">
        {as.type === 'csv' && (
          <Choice
            label={t('list.separator')}
            value={separator}
            choices={[
              [',', t('list.comma')],
              [';', t('list.semicolon')],
              ['|', t('list.bar')],
            ]}
            // Where values are parted by semicolons, commas are mostly decimal signs.
            onChange={(separator) => say({ separator, decimal: separator === ';' ? ',' : '.' })}
          />
        )}
        <Choice
          label={t('list.decimal-sign')}
          value={decimal}
          choices={[
            ['.', t('list.point')],
            [',', t('list.comma')],
          ]}
          onChange={(decimal) => say({ decimal })}
        />
        <Choice
          label={t('slip.letters')}
          value={encoding}
          choices={encodings()}
          onChange={(encoding) => say({ encoding })}
        />
      </div>
      <div className="mt-1 text-[13px]">
        <GuardBox
          guarded={!!guarded}
          onChange={(on) => {
            const { guarded: _, ...list } = as.list ?? {}
            onChange({ ...as, list: { ...list, ...(on && { guarded: true as const }) } })
          }}
        />
      </div>
    </>
  )
}
