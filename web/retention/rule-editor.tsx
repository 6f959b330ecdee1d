// A rule of retention, with what it would do now shown beside it before it is set.

import { zodResolver } from '@hookform/resolvers/zod'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { ArrowLeft } from 'lucide-react'
import { useMemo } from 'react'
import { useForm, useWatch } from 'react-hook-form'
import { z } from 'zod'
import type { Share } from '../../core/contract'
import { RetentionRule } from '../../core/contract'
import { sayRule } from '../../core/history/retention'
import { sentenceOf } from '../../core/words/said'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { Blank, Button } from '../design/controls'
import { t, told } from '../words/all'
import { digits, size } from '../words/formats'
import { RetentionChart } from './retention-chart'

const stretches = [
  ['all', t('retention.all-versions-for')],
  ['hourly', t('retention.then-one-an-hour-up-to')],
  ['daily', t('retention.then-one-a-day-up-to')],
  ['weekly', t('retention.then-one-a-week-up-to')],
] as const

/** Days as they are typed. */
type Typed = Record<keyof RetentionRule, string>
const isWhole = (text: string) => /^\d+$/.test(text.trim())
const wholeDays = z
  .string()
  .refine(isWhole, {
    error: ({ input }) => (input === '' ? t('retention.something-is-missing') : t('retention.days-are-whole-numbers')),
  })
  .transform(Number)
const TypedRule = z
  .object({
    all: wholeDays,
    hourly: wholeDays,
    daily: wholeDays,
    weekly: wholeDays,
    /** Nothing for one a month for good. */
    monthly: z
      .string()
      .refine((text) => text.trim() === '' || isWhole(text), t('retention.days-are-whole-numbers'))
      .transform((text) => (text.trim() === '' ? null : Number(text))),
  })
  .pipe(RetentionRule)
const typedOf = ({ all, hourly, daily, weekly, monthly }: RetentionRule): Typed => ({
  all: String(all),
  hourly: String(hourly),
  daily: String(daily),
  weekly: String(weekly),
  monthly: monthly === null ? '' : String(monthly),
})

export function RuleEditor({
  share,
  folderId,
  path,
  present,
  beginning,
  onSet,
  onBack,
}: {
  share: Share
  folderId: string | null
  path: readonly string[]
  /** The rule that holds here now; null when none is set here. */
  present: RetentionRule | null
  beginning: RetentionRule
  onSet: (rule: RetentionRule | null) => void
  onBack: () => void
}) {
  const { register, handleSubmit, setValue, control } = useForm({
    defaultValues: typedOf(present ?? beginning),
    resolver: zodResolver(TypedRule),
  })
  // What it would do is shown while it is typed.
  const days = useWatch({ control }) as Typed
  const parsed = useMemo(() => TypedRule.safeParse(days), [days])
  const rule = parsed.success ? parsed.data : null
  const fault = parsed.success ? '' : told(sentenceOf(parsed.error.issues[0]!.message))
  const preview = useQuery({
    queryKey: keys.retentionPreview(share.id, folderId, rule),
    enabled: !!rule,
    placeholderData: keepPreviousData,
    queryFn: () => call('previewRetention', { params: { shareId: share.id }, body: { folderId, rule } }),
  })
  const facts = preview.data
  const field = (key: keyof RetentionRule, label: string) => (
    <input
      aria-label={label}
      inputMode="numeric"
      className="h-8 w-20 rounded-md border border-rule-strong bg-sheet px-2 text-right aria-invalid:border-rust"
      aria-invalid={days[key] !== '' && !isWhole(days[key])}
      {...register(key)}
    />
  )
  return (
    <main className="flex min-h-0 min-w-0 flex-1 flex-col overflow-auto px-4 py-4 md:px-8 md:py-6">
      <div className="flex items-center gap-3">
        <button
          type="button"
          aria-label={t('retention.back-to-the-rules')}
          className="grid size-9 place-items-center rounded-md hover:bg-wash"
          onClick={onBack}
        >
          <ArrowLeft size={18} />
        </button>
        <h1 className="min-w-0 truncate text-[20px] font-semibold">
          {t('retention.retention-in-2', { path: path.join(' / ') })}
        </h1>
      </div>
      <div className="grid gap-10 pt-5 lg:grid-cols-[340px_minmax(0,1fr)]">
        <form onSubmit={handleSubmit((set) => onSet(set))}>
          <div className="flex flex-col gap-2.5">
            {stretches.map(([key, label]) => (
              <div key={key} className="flex items-center gap-2">
                <span className="min-w-0 flex-1">{label}</span>
                {field(key, label)}
                <span className="w-9 text-soft">{t('retention.days')}</span>
              </div>
            ))}
            <div className="flex items-center gap-2">
              <span className="min-w-0 flex-1">{t('retention.then-one-a-month-up-to')}</span>
              {field('monthly', t('retention.then-one-a-month-up-to'))}
              <span className="w-9 text-soft">{t('retention.days')}</span>
            </div>
            <label className="flex items-center gap-2 text-[14px]">
              <input
                type="checkbox"
                className="size-4 accent-[var(--accent)]"
                checked={days.monthly.trim() === ''}
                onChange={(event) => setValue('monthly', event.target.checked ? '' : days.weekly)}
              />
              {t('retention.one-a-month-for-good')}
            </label>
          </div>
          <p className={`pt-4 text-[14px] ${fault ? 'text-rust' : 'text-soft'}`} role={fault ? 'alert' : undefined}>
            {fault || (rule && told(sayRule(rule)))}
          </p>
          <div className="flex flex-wrap gap-2 pt-4">
            <Button look="main" type="submit" disabled={!rule}>
              {present ? t('retention.change-the-rule') : t('retention.turn-it-on')}
            </Button>
            {present && <Button onClick={() => onSet(null)}>{t('retention.remove-the-rule')}</Button>}
            <Button look="quiet" onClick={onBack}>
              {t('common.cancel')}
            </Button>
          </div>
          <p className="pt-4 text-[13px] leading-[18px] text-soft">
            {t('retention.nothing-is-removed-before-you-turn-it')}
          </p>
        </form>
        <div className="min-w-0" data-testid="preview">
          {!facts ? (
            <Blank
              title={
                preview.isError ? t('retention.the-preview-cannot-be-shown-right-now') : t('retention.working-it-out')
              }
              waiting
            />
          ) : (
            <>
              <dl className="grid grid-cols-3 gap-6 pb-5">
                {(
                  [
                    [
                      t('retention.would-be-removed'),
                      t('retention.versions', { gone: facts.gone }),
                      t('retention.of-versions', { versions: digits(facts.versions) }),
                    ],
                    [
                      t('retention.would-be-freed'),
                      size(facts.frees),
                      t('retention.as-files', { asFiles: size(facts.asFiles) }),
                    ],
                    [
                      t('retention.looked-at'),
                      t('retention.files', { files: facts.files }),
                      facts.held
                        ? t('retention.of-them-on-hold', { held: facts.held })
                        : t('retention.none-of-them-on-hold'),
                    ],
                  ] as const
                ).map(([what, value, more]) => (
                  <div key={what} className="border-l border-rule-strong pl-3">
                    <dd className="text-[22px] font-semibold leading-7">{value}</dd>
                    <dt className="text-[13px] text-soft">
                      {what}, {more}
                    </dt>
                  </div>
                ))}
              </dl>
              <RetentionChart months={facts.months} />
              {facts.most.length > 0 && (
                <table className="mt-5 w-full text-[14px]">
                  <thead>
                    <tr className="border-b text-left text-[13px] text-soft">
                      <th className="py-1.5 font-normal">{t('retention.most-would-be-removed-of')}</th>
                      <th className="py-1.5 text-right font-normal">{t('retention.would-be-removed-3')}</th>
                      <th className="py-1.5 text-right font-normal">{t('retention.of')}</th>
                    </tr>
                  </thead>
                  <tbody>
                    {facts.most.map((one) => (
                      <tr key={one.fileId} className="border-b">
                        <td className="max-w-96 truncate py-1.5 font-mono text-[13px]">{one.name}</td>
                        <td className="py-1.5 text-right">{one.gone}</td>
                        <td className="py-1.5 text-right">{one.versions}</td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              )}
            </>
          )}
        </div>
      </div>
    </main>
  )
}
