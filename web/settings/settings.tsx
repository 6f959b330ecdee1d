import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { type Settings, standardInterval } from '../../core/contract'
import { sayInterval } from '../../core/recovery/protection'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { Button, Field } from '../design/controls'
import { t, told } from '../words/all'
import { type Language, languages } from '../words/language'
import { Account } from './account'
import { DefaultPlaces } from './defaults'
import { IntervalAdvice } from './interval-advice'
import { ManagedProtection } from './managed-protection'
import { Printers } from './printers'
import { RoomForWork } from './room'

const intervals = [5, 15, 30, 60, 300, 0]
const named = (seconds: number) => (seconds === 0 ? t('settings.off') : told(sayInterval(seconds)))

export function SettingsView() {
  const client = useQueryClient()
  const { settings } = useSession()
  const [typed, setTyped] = useState(String(settings.recoveryInterval))
  useEffect(() => setTyped(String(settings.recoveryInterval)), [settings.recoveryInterval])
  const change = useMutation({
    mutationFn: (part: Partial<Settings>) => call('setSettings', { body: { ...settings, ...part } }),
    onSuccess: (next) => client.setQueryData(keys.settings(), next),
  })
  const number = Number(typed)
  const fault =
    Number.isInteger(number) && number >= 5 && number <= 3600 ? '' : t('settings.use-a-whole-number-from-5-to')
  const choice = (pressed: boolean, label: string, onClick: () => void) => (
    <button
      key={label}
      type="button"
      aria-pressed={pressed}
      onClick={onClick}
      className="h-9 rounded-md border border-rule-strong bg-paper px-2.5 aria-pressed:border-accent aria-pressed:bg-wash aria-pressed:font-semibold"
    >
      {label}
    </button>
  )
  const section = 'grid gap-x-12 gap-y-3 border-t py-7 md:grid-cols-[216px_1fr]'
  return (
    <main className="relative h-full overflow-auto">
      <div className="mx-auto max-w-[880px] px-8 py-8">
        <h1 className="mb-6 text-[26px] font-semibold leading-8">{t('common.settings')}</h1>
        {change.isError && (
          <p role="alert" className="mb-4 text-rust">
            {change.error instanceof Refused ? told(change.error.problem) : t('settings.this-could-not-be-changed')}
          </p>
        )}
        <section className={section} aria-labelledby="interval">
          <div>
            <h2 id="interval" className="font-semibold">
              {t('common.recovery-interval')}
            </h2>
            <p className="text-[14px] text-soft">{t('settings.how-often-unsaved-work-goes-to-the')}</p>
          </div>
          <div>
            <div className="mb-4 flex flex-wrap gap-2">
              {intervals.map((seconds) =>
                choice(settings.recoveryInterval === seconds, named(seconds), () =>
                  change.mutate({ recoveryInterval: seconds }),
                ),
              )}
            </div>
            <form
              className="flex items-start gap-2"
              onSubmit={(event) => {
                event.preventDefault()
                if (!fault) change.mutate({ recoveryInterval: number })
              }}
            >
              <Field
                label={t('settings.seconds')}
                inputMode="numeric"
                className="w-44"
                value={typed}
                fault={fault}
                onChange={(event) => setTyped(event.target.value)}
              />
              <Button type="submit" className="mt-6 h-9" disabled={!!fault || number === settings.recoveryInterval}>
                {t('common.set')}
              </Button>
            </form>
            <p className="mt-3 text-[14px] text-soft" role="status">
              {t('settings.if-this-computer-were-lost-now-you', {
                recoveryInterval: Boolean(settings.recoveryInterval === 0),
                it: settings.recoveryInterval + 2,
              })}
            </p>
            <IntervalAdvice
              present={settings.recoveryInterval || standardInterval}
              onSet={(recoveryInterval) => change.mutate({ recoveryInterval })}
            />
            <ManagedProtection />
          </div>
        </section>
        <section className={section} aria-labelledby="continuous">
          <div>
            <h2 id="continuous" className="font-semibold">
              {t('settings.saved-by-itself')}
            </h2>
            <p className="text-[14px] text-soft">{t('settings.files-save-whenever-you-pause-without-being')}</p>
          </div>
          <div className="flex flex-wrap gap-2">
            {choice(!settings.continuousSave, t('settings.only-when-i-save'), () =>
              change.mutate({ continuousSave: false }),
            )}
            {choice(settings.continuousSave, t('settings.whenever-i-pause'), () =>
              change.mutate({ continuousSave: true }),
            )}
          </div>
        </section>
        <section className={section} aria-labelledby="places">
          <div>
            <h2 id="places" className="font-semibold">
              {t('settings.where-new-work-goes')}
            </h2>
            <p className="text-[14px] text-soft">{t('settings.the-filing-slip-begins-there-your-own')}</p>
          </div>
          <DefaultPlaces />
        </section>
        <section className={section} aria-labelledby="kept">
          <div>
            <h2 id="kept" className="font-semibold">
              {t('common.closed-without-saving')}
            </h2>
            <p className="text-[14px] text-soft">{t('settings.how-long-you-can-get-unsaved-work')}</p>
          </div>
          <div className="flex flex-wrap gap-2">
            {[1, 7, 14, 30, 90].map((days) =>
              choice(settings.keptDays === days, t('settings.days', { days }), () => change.mutate({ keptDays: days })),
            )}
          </div>
        </section>
        <section className={section} aria-labelledby="room">
          <div>
            <h2 id="room" className="font-semibold">
              {t('settings.room-for-unsaved-work')}
            </h2>
            <p className="text-[14px] text-soft">{t('settings.where-recovery-points-are-kept-and-how')}</p>
          </div>
          <RoomForWork onChange={(part) => change.mutate(part)} />
        </section>
        <section className={section} aria-labelledby="printers">
          <div>
            <h2 id="printers" className="font-semibold">
              {t('paper.printers')}
            </h2>
            <p className="text-[14px] text-soft">{t('paper.printers-are')}</p>
          </div>
          <Printers />
        </section>
        <section className={section} aria-labelledby="appearance">
          <h2 id="appearance" className="font-semibold">
            {t('settings.appearance')}
          </h2>
          <div className="flex flex-wrap gap-2">
            {(['system', 'light', 'dark'] as const).map((appearance) =>
              choice(
                settings.appearance === appearance,
                { system: t('settings.like-the-computer'), light: t('settings.light'), dark: t('settings.dark') }[
                  appearance
                ],
                () => change.mutate({ appearance }),
              ),
            )}
          </div>
        </section>
        <section className={section} aria-labelledby="language">
          <div>
            <h2 id="language" className="font-semibold">
              {t('settings.language')}
            </h2>
            <p className="text-[14px] text-soft">{t('settings.the-page-is-loaded-anew')}</p>
          </div>
          <div className="flex flex-wrap gap-2">
            {choice(settings.language === 'system', t('settings.as-the-browser-asks'), () =>
              change.mutate({ language: 'system' }),
            )}
            {(Object.keys(languages) as Language[]).map((one) =>
              choice(settings.language === one, languages[one].name, () => change.mutate({ language: one })),
            )}
          </div>
        </section>
        <section className={section} aria-labelledby="account">
          <h2 id="account" className="font-semibold">
            {t('settings.account')}
          </h2>
          <Account />
        </section>
      </div>
    </main>
  )
}
