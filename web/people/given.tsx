import clsx from 'clsx'
import { X } from 'lucide-react'
import type { GrantShown, RealmShown } from '../../core/contract'
import { IconButton } from '../design/icon-button'
import { t } from '../words/all'
import { moment } from '../words/formats'
import { SubjectGlyph } from './choose-subject'
import type { Gift } from './give'
import { roleChoices, roleWords } from './said'

/** What was given in one share, folder or file; what comes from above is changed there. */
export function Given({
  realm,
  here,
  cut,
  grants,
  mayManage,
  onGive,
  onEnd,
}: {
  realm: RealmShown
  /** Whether the screen is about this one. */
  here: boolean
  /** Whether what lies between lets in nobody but those who manage. */
  cut: boolean
  grants: readonly GrantShown[]
  mayManage: boolean
  onGive: (gift: Gift) => Promise<boolean>
  onEnd: (grantId: string) => Promise<boolean>
}) {
  return (
    <div className="mt-4">
      <h3 className="text-[14px] text-soft">
        {here ? t('people.here') : t('people.in-realm', { kind: realm.kind, name: realm.name })}
        {realm.closed && ` · ${t('people.closed-to-others')}`}
      </h3>
      {grants.length === 0 && <p className="py-2">{t('people.nothing-given')}</p>}
      <ul aria-label={realm.name}>
        {grants.map((grant) => {
          const over = grant.until !== null && new Date(grant.until) <= new Date()
          const subject =
            grant.subject.kind === 'person' ? { personId: grant.subject.id } : { groupId: grant.subject.id }
          return (
            <li key={grant.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b py-2 last:border-b-0">
              <span className="flex min-w-40 flex-1 basis-52 items-center gap-2.5">
                <SubjectGlyph kind={grant.subject.kind} />
                <span className={clsx('truncate', cut && grant.role !== 'manage' && 'text-soft line-through')}>
                  {grant.subject.name}
                </span>
              </span>
              <span className="min-w-40 flex-1 text-[14px] text-soft">
                {t('people.given-by', {
                  known: Boolean(grant.givenBy !== null),
                  by: grant.givenBy ?? '',
                  at: moment(grant.givenAt),
                })}
                {cut && grant.role !== 'manage' && ` · ${t('people.does-not-count-here')}`}
                {grant.until &&
                  ` · ${over ? t('people.ended', { until: moment(grant.until) }) : t('people.ends', { until: moment(grant.until) })}`}
              </span>
              {mayManage && over ? (
                // What has ended is given anew, not made to last by a change of its role.
                <IconButton
                  label={t('people.take-away', { name: grant.subject.name })}
                  onClick={() => void onEnd(grant.id)}
                >
                  <X />
                </IconButton>
              ) : mayManage ? (
                <span className="flex items-center gap-2">
                  <select
                    aria-label={t('people.role-of', { name: grant.subject.name })}
                    className="h-8 rounded-md border border-rule-strong bg-sheet px-2"
                    value={grant.role}
                    onChange={({ target: { value } }) =>
                      void onGive({ subject, role: value as Gift['role'], until: grant.until })
                    }
                  >
                    {roleChoices.map(([role, words]) => (
                      <option key={role} value={role}>
                        {words}
                      </option>
                    ))}
                  </select>
                  <IconButton
                    label={t('people.take-away', { name: grant.subject.name })}
                    onClick={() => void onEnd(grant.id)}
                  >
                    <X />
                  </IconButton>
                </span>
              ) : (
                <span>{roleWords(grant.role)}</span>
              )}
            </li>
          )
        })}
      </ul>
    </div>
  )
}
