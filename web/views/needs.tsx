// Types by what they are good for.
import { t } from '../words/all'

/** What each type is good for. */
const needs: Record<string, () => string> = {
  docx: () => t('slip.for-going-on'),
  xlsx: () => t('slip.for-going-on'),
  txt: () => t('slip.for-any-program'),
  csv: () => t('slip.for-rows'),
  tsv: () => t('slip.for-rows-by-tabs'),
}
const control = 'h-9 w-full rounded-md border border-rule-strong bg-sheet px-2 text-[14px] text-ink'

/** One of several, by its words. */
export const ChoiceOf = ({
  label,
  value,
  choices,
  onChange,
}: {
  label: string
  value: string | number
  choices: readonly (readonly [string | number, string])[]
  onChange: (value: string) => void
}) => (
  <label className="flex flex-col gap-1 text-[13px] text-soft">
    {label}
    <select className={control} value={value} onChange={(event) => onChange(event.target.value)}>
      {choices.map(([one, words]) => (
        <option key={one} value={one}>
          {words}
        </option>
      ))}
    </select>
  </label>
)

/** Asks what a file is for, and means its type. */
export const NeedsOf = ({
  types,
  value,
  onChange,
}: {
  types: readonly string[]
  value: string
  onChange: (type: string) => void
}) => (
  <ChoiceOf
    label={t('slip.what-for')}
    value={value}
    choices={types.map((type) => [type, `${(needs[type] ?? (() => t('slip.for-the-same')))()} (.${type})`] as const)}
    onChange={onChange}
  />
)
