/** One of several, by its words. */
export function Choice<T extends string>({
  label,
  value,
  choices,
  onChange,
  small,
  first,
}: {
  label: string
  value: T
  choices: readonly (readonly [T, string])[]
  onChange: (value: T) => void
  /** Among other small fields. */
  small?: boolean
  /** The keys go to it when what it is in opens. */
  first?: boolean
}) {
  const looks = small ? ['text-[12px]', 'h-8 text-[14px]'] : ['gap-1 text-[13px]', 'h-9 text-[14px]']
  return (
    <label className={`flex flex-col text-soft ${looks[0]}`}>
      {label}
      <select
        className={`rounded-md border border-rule-strong bg-sheet px-2 text-ink ${looks[1]}`}
        {...(first && { 'data-first': true })}
        value={value}
        onChange={(event) => onChange(event.target.value as T)}
      >
        {choices.map(([one, words]) => (
          <option key={one} value={one}>
            {words}
          </option>
        ))}
      </select>
    </label>
  )
}
