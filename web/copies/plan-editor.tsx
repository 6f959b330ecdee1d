// What goes to a place and how often, with what that takes shown beside it before it is set.
import { zodResolver } from '@hookform/resolvers/zod'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { ArrowLeft } from 'lucide-react'
import { useMemo, useRef, useState } from 'react'
import { useForm, useWatch } from 'react-hook-form'
import { z } from 'zod'
import { CopyPlan } from '../../core/contract'
import { sayPlan } from '../../core/copies/plan'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { Blank, Button } from '../design/controls'
import { t, told } from '../words/all'
import { size, span } from '../words/formats'
import { type Planning, plansOf, sayFolderPlan } from './planning'
import { useAsking } from './use-asking'

const whats = ['all', 'kept', 'latest', 'nothing'] as const
const sayWhat = {
  all: t('sites.what-all'),
  kept: t('sites.what-kept'),
  latest: t('sites.what-latest'),
  nothing: t('sites.what-nothing'),
}
const rhythms: Record<string, string> = {
  0: t('sites.each-change'),
  1: t('sites.each-hour'),
  24: t('sites.each-day'),
  168: t('sites.each-week'),
}

/** As it is typed. */
interface Typed {
  extent: CopyPlan['extent']
  hours: string
  checkDays: string
  back: boolean
  backDays: string
  bounded: boolean
  mostRate: string
}
const typedOf = ({ extent, hours, checkDays, backDays, mostRate }: CopyPlan): Typed => ({
  extent,
  hours: String(hours),
  checkDays: String(checkDays),
  back: backDays !== null,
  backDays: String(backDays ?? 365),
  bounded: mostRate !== null,
  mostRate: String(mostRate ?? 20),
})
const isWhole = (text: string) => /^[1-9]\d*$/.test(text.trim())
const whole = z.string().refine(isWhole, t('sites.whole-number')).transform(Number)
/** What is not asked for need not be right. */
const TypedPlan = z
  .object({
    extent: z.enum(whats),
    hours: z.string().transform(Number),
    checkDays: whole,
    back: z.boolean(),
    bounded: z.boolean(),
    backDays: z.string(),
    mostRate: z.string(),
  })
  .transform(({ back, backDays, bounded, mostRate, ...rest }, context) => {
    const number = (wanted: boolean, text: string, path: string) => {
      if (wanted && !isWhole(text)) context.addIssue({ code: 'custom', message: t('sites.whole-number'), path: [path] })
      return wanted ? Number(text) : null
    }
    return { ...rest, backDays: number(back, backDays, 'backDays'), mostRate: number(bounded, mostRate, 'mostRate') }
  })
  .pipe(CopyPlan)

const choice = 'h-8 rounded-md border border-rule-strong bg-sheet px-2 disabled:opacity-50 aria-invalid:border-rust'

export function PlanEditor({ planning, onBack }: { planning: Planning; onBack: () => void }) {
  const { site, share, folder: given } = planning
  const ask = useAsking()
  const [folder, setFolder] = useState(given === 'to be chosen' ? null : (given ?? null))
  const { present, beginning } = plansOf(folder ? { ...planning, folder } : planning)
  const { register, handleSubmit, control, reset } = useForm({
    defaultValues: typedOf(present ?? beginning),
    resolver: zodResolver(TypedPlan),
  })
  /** A folder that has a plan already shows that one. */
  const choose = (chosen: Folder) => {
    setFolder(chosen)
    const { present: its } = plansOf({ ...planning, folder: chosen })
    if (its) reset(typedOf(its))
  }
  const place = { siteId: site.id, shareId: share?.id ?? null, folderId: folder?.id ?? null }
  const chosen = given !== 'to be chosen' || folder !== null
  const aside = share && !given ? (site.shares.find(({ shareId }) => shareId === share.id)?.folders.length ?? 0) : 0
  const typed = useWatch({ control }) as Typed
  const parsed = useMemo(() => TypedPlan.safeParse(typed), [typed])
  const plan = parsed.success ? parsed.data : null
  const wrong = (path: keyof Typed) => !parsed.success && parsed.error.issues.some((issue) => issue.path[0] === path)
  const set = async (next: CopyPlan | null) => {
    const done = await ask(
      () => call('setCopyPlan', { body: { ...place, plan: next } }),
      next ? t('sites.plan-is-set') : share ? t('sites.plan-gives-way') : t('sites.plan-is-ended'),
      t('sites.plan-not-set'),
    )
    if (done) onBack()
  }
  const number = (path: 'checkDays' | 'backDays' | 'mostRate', label: string, disabled = false) => (
    <input
      aria-label={label}
      inputMode="numeric"
      disabled={disabled}
      className={`${choice} w-20 text-right`}
      aria-invalid={wrong(path)}
      {...register(path)}
    />
  )
  const hours =
    typed.hours in rhythms ? rhythms : { ...rhythms, [typed.hours]: t('sites.each-hours', { hours: typed.hours }) }
  const off = typed.extent === 'nothing'
  return (
    <main className="relative flex h-full min-w-0 flex-col overflow-auto">
      <div className="mx-auto w-full max-w-[1080px] px-4 py-4 md:px-8 md:py-6">
        <div className="flex items-center gap-3">
          <button
            type="button"
            aria-label={t('sites.back')}
            className="grid size-9 shrink-0 place-items-center rounded-md hover:bg-wash"
            onClick={onBack}
          >
            <ArrowLeft size={18} />
          </button>
          <h1 className="min-w-0 truncate text-[20px] font-semibold">
            {t('sites.plan-for', {
              site: site.name,
              share: share ? [share.name, ...(folder?.path ?? [])].join(' / ') : t('sites.every-share'),
            })}
          </h1>
        </div>
        <div className="grid gap-10 pt-5 lg:grid-cols-[460px_minmax(0,1fr)]">
          <form onSubmit={handleSubmit((next) => set(next))} className="flex flex-col gap-4">
            {given === 'to be chosen' && <FolderChoice shareId={share!.id} chosen={folder} onChoose={choose} />}
            <fieldset className="flex flex-col gap-1.5">
              <legend className="pb-1 text-[13px] text-soft">{t('sites.what')}</legend>
              {whats.map((what) => (
                <label key={what} className="flex min-h-6 items-center gap-2.5">
                  <input
                    type="radio"
                    value={what}
                    className="size-4 shrink-0 accent-[var(--accent)]"
                    {...register('extent')}
                  />
                  {sayWhat[what]}
                </label>
              ))}
            </fieldset>
            <label className="flex items-center gap-2">
              <span className="min-w-0 flex-1">{t('sites.how-often')}</span>
              <select className={`${choice} w-[184px]`} disabled={off} {...register('hours')}>
                {Object.entries(hours).map(([value, says]) => (
                  <option key={value} value={value}>
                    {says}
                  </option>
                ))}
              </select>
            </label>
            {!given && (
              <div className="flex items-center gap-2">
                <span className="min-w-0 flex-1">{t('sites.read-all')}</span>
                {number('checkDays', t('sites.read-all'), off)}
                <span className="w-24 text-soft">{t('sites.days')}</span>
              </div>
            )}
            <div className="flex items-center gap-2">
              <label className="flex min-w-0 flex-1 items-center gap-2.5">
                <input
                  type="checkbox"
                  className="size-4 shrink-0 accent-[var(--accent)]"
                  disabled={off || typed.extent === 'latest'}
                  {...register('back')}
                />
                {t('sites.back-days')}
              </label>
              {number('backDays', t('sites.back-days'), off || typed.extent === 'latest' || !typed.back)}
              <span className="w-24 text-soft">{t('sites.days')}</span>
            </div>
            {!given && (
              <div className="flex items-center gap-2">
                <label className="flex min-w-0 flex-1 items-center gap-2.5">
                  <input
                    type="checkbox"
                    className="size-4 shrink-0 accent-[var(--accent)]"
                    disabled={off}
                    {...register('bounded')}
                  />
                  {t('sites.most-rate')}
                </label>
                {number('mostRate', t('sites.most-rate'), off || !typed.bounded)}
                <span className="w-24 text-soft">{t('sites.mb-a-second')}</span>
              </div>
            )}
            <p className={`text-[14px] ${plan ? 'text-soft' : 'text-rust'}`} role={plan ? undefined : 'alert'}>
              {!plan
                ? t('sites.whole-number')
                : given
                  ? `${sayFolderPlan(plan)} ${t('sites.rest-is-the-shares')}`
                  : told(sayPlan(plan))}
            </p>
            {aside > 0 && <p className="text-[14px] text-soft">{t('sites.folders-aside', { aside })}</p>}
            <div className="flex flex-wrap gap-2">
              <Button look="main" type="submit" disabled={!plan || !chosen}>
                {t('sites.set-plan')}
              </Button>
              {present && <Button onClick={() => void set(null)}>{t('sites.end-plan')}</Button>}
              <Button look="quiet" onClick={onBack}>
                {t('common.cancel')}
              </Button>
            </div>
          </form>
          {chosen ? <Preview place={place} plan={plan} /> : <p className="text-soft">{t('sites.choose-a-folder')}</p>}
        </div>
      </div>
    </main>
  )
}

type Folder = Exclude<NonNullable<Planning['folder']>, string>

/** The folders of a share by their paths, those with what is typed in them. */
function FolderChoice({
  shareId,
  chosen,
  onChoose,
}: {
  shareId: string
  chosen: Folder | null
  onChoose: (folder: Folder) => void
}) {
  const [typed, setTyped] = useState('')
  const list = useRef<HTMLSelectElement>(null)
  const folders = useQuery({
    queryKey: keys.copies('folders', shareId),
    queryFn: () => call('plannableFolders', { params: { shareId } }),
  })
  const words = typed.toLocaleLowerCase().split(/\s+/).filter(Boolean)
  const shown = (folders.data ?? []).filter(({ path }) => {
    const text = path.join(' / ').toLocaleLowerCase()
    return words.every((word) => text.includes(word))
  })
  if (folders.data?.length === 0) return <p className="text-soft">{t('sites.no-folders')}</p>
  return (
    <div className="flex flex-col gap-1.5">
      <label className="flex flex-col gap-1">
        <span className="text-[13px] text-soft">{t('sites.folder-to-plan')}</span>
        <input
          type="search"
          // It is what whoever comes here has to say first.
          autoFocus
          className={`${choice} w-full`}
          placeholder={t('sites.part-of-its-path')}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={(event) => {
            if (event.key !== 'Enter' && event.key !== 'ArrowDown') return
            // The first that was found; the arrow goes on in the list.
            event.preventDefault()
            if (shown[0]) onChoose(shown[0])
            if (event.key === 'ArrowDown') list.current?.focus()
          }}
        />
      </label>
      <select
        ref={list}
        aria-label={t('sites.folders-found')}
        size={6}
        className="w-full rounded-md border border-rule-strong bg-sheet py-1 [&>option]:truncate [&>option]:px-2 [&>option]:py-0.5"
        value={chosen?.id ?? ''}
        onChange={(event) => {
          const found = shown.find(({ id }) => id === event.target.value)
          if (found) onChoose(found)
        }}
      >
        {shown.map(({ id, path }) => (
          <option key={id} value={id}>
            {path.join(' / ')}
          </option>
        ))}
      </select>
    </div>
  )
}

function Preview({
  place,
  plan,
}: {
  place: { siteId: string; shareId: string | null; folderId: string | null }
  plan: CopyPlan | null
}) {
  const preview = useQuery({
    queryKey: keys.copies('preview', place.siteId, place.shareId, place.folderId, plan),
    enabled: !!plan,
    placeholderData: keepPreviousData,
    queryFn: () => call('previewCopyPlan', { body: { ...place, plan: plan! } }),
  })
  const facts = preview.data
  if (!facts)
    return (
      <Blank
        title={preview.isError ? t('retention.the-preview-cannot-be-shown-right-now') : t('retention.working-it-out')}
        waiting
      />
    )
  const left = facts.bytes - facts.there.bytes
  const figures: [value: string, what: string][] = [
    [
      t('retention.versions', { gone: facts.versions }),
      `${t('sites.would-be-copied')}, ${t('sites.in-files', { files: facts.files })}`,
    ],
    [
      size(facts.bytes),
      `${t('sites.takes')}, ${left ? t('sites.there-already', { size: size(facts.there.bytes) }) : t('sites.all-there')}`,
    ],
    ...(facts.seconds === null || !left
      ? []
      : [
          [facts.seconds < 1 ? t('sites.moments') : span(facts.seconds * 1000), t('sites.would-take')] as [
            string,
            string,
          ],
        ]),
    ...(facts.room === null ? [] : [[size(facts.room), t('sites.room-left')] as [string, string]]),
  ]
  return (
    <div className="min-w-0" data-testid="preview" aria-live="polite">
      <dl className="grid grid-cols-2 gap-x-6 gap-y-5">
        {figures.map(([value, what]) => (
          <div key={what} className="border-l border-rule-strong pl-3">
            <dd className="text-[22px] font-semibold leading-7">{value}</dd>
            <dt className="text-[13px] text-soft">{what}</dt>
          </div>
        ))}
      </dl>
      {facts.seconds === null && left > 0 && plan?.extent !== 'nothing' && (
        <p className="pt-4 text-[14px] text-soft">{t('sites.how-long-unknown')}</p>
      )}
      {facts.room !== null && left > facts.room && (
        <p className="pt-4 text-rust" role="alert">
          {t('sites.no-room')}
        </p>
      )}
      {(plan?.extent === 'latest' || plan?.extent === 'kept' || !!plan?.backDays) && (
        <p className="pt-4 text-[14px] text-soft">{t('sites.latest-only-warns')}</p>
      )}
    </div>
  )
}
