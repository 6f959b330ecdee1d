// What a link may: asked for where one is made, and where one is sent.
import type { Version } from '../../core/contract'
import { Choice } from '../design/choice'
import { Field } from '../design/controls'
import { t } from '../words/all'
import { endOfDay } from '../words/formats'

export interface LinkWish {
  role: 'view' | 'edit'
  day: string
  password: string
  uses: string
  which: 'latest' | 'this'
  download: boolean
}
export const usualLink: LinkWish = { role: 'view', day: '', password: '', uses: '', which: 'latest', download: true }

/** The wish as it is asked for. @param head of a file */
export const linkOf = ({ role, day, password, uses, which, download }: LinkWish, head: Version | null | undefined) => ({
  role,
  until: endOfDay(day),
  password: password || null,
  uses: uses ? Number(uses) : null,
  versionId: role === 'view' && which === 'this' && head ? head.id : null,
  download,
})

export function LinkFields({
  wish,
  head,
  faults,
  onChange,
}: {
  wish: LinkWish
  /** The latest version, of a file. */
  head: Version | null | undefined
  faults: Readonly<Record<string, string>>
  onChange: (wish: LinkWish) => void
}) {
  const set = (part: Partial<LinkWish>) => onChange({ ...wish, ...part })
  return (
    <>
      <div className="grid gap-4 sm:grid-cols-2">
        <Choice
          label={t('people.link-role-head')}
          value={wish.role}
          choices={(['view', 'edit'] as const).map((one) => [one, t('people.link-role', { role: one })] as const)}
          onChange={(role) => set({ role })}
        />
        {head && wish.role === 'view' && (
          <Choice
            label={t('people.link-version-head')}
            value={wish.which}
            choices={[
              ['latest', t('people.link-latest')],
              ['this', t('people.link-this-version', { number: head.number })],
            ]}
            onChange={(which) => set({ which })}
          />
        )}
      </div>
      <label className="flex items-center gap-2.5 text-ink">
        <input
          type="checkbox"
          className="accent-accent"
          checked={wish.download}
          onChange={(event) => set({ download: event.target.checked })}
        />
        {t('people.link-download')}
      </label>
      <div className="flex flex-wrap gap-4">
        <Field
          label={t('people.until-if-wished')}
          type="date"
          className="w-44"
          value={wish.day}
          fault={faults.until}
          onChange={(event) => set({ day: event.target.value })}
        />
        <Field
          label={t('people.link-uses-most')}
          type="number"
          min={1}
          max={10_000}
          className="w-44"
          value={wish.uses}
          fault={faults.uses}
          onChange={(event) => set({ uses: event.target.value })}
        />
      </div>
      <Field
        label={t('people.link-password')}
        hint={t('people.link-password-hint')}
        autoComplete="off"
        maxLength={200}
        value={wish.password}
        fault={faults.password}
        onChange={(event) => set({ password: event.target.value })}
      />
    </>
  )
}
