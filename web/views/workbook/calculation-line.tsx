// A calculation that takes long, and one that was stopped: what it is at, and the way to end it or to go on.
import { useEffect, useState } from 'react'
import { useOffer } from '../../design/commands'
import { t } from '../../words/all'
import type { CalculationState } from '../../workers/calculating'
import type { ShownWorkbook } from './still'

export function CalculationLine({ store }: { store: ShownWorkbook }) {
  const { calculation } = store
  const stop = () => void store.stopCalculation()
  const goOn = () => void store.calculateAgain()
  const group = t('common.this-file')
  useOffer(
    calculation.is === 'done'
      ? []
      : calculation.is === 'working'
        ? [{ id: 'stop calculating', label: t('sheet.stop-calculating'), group, run: stop }]
        : [{ id: 'calculate again', label: t('sheet.calculate-again'), group, run: goOn }],
  )
  if (calculation.is === 'done') return null
  return (
    <span className="right-0 ml-auto sm:sticky flex shrink-0 items-center gap-2 bg-paper pl-4 text-[13px] whitespace-nowrap">
      {calculation.is === 'working' ? (
        <>
          <Working {...calculation} />
          <Act label={t('sheet.stop-calculating')} onPress={stop} />
        </>
      ) : (
        <>
          <span role="status" className={calculation.unknown ? 'text-rust' : 'text-soft'}>
            {t('sheet.calculation-stopped', { by: calculation.by, unknown: calculation.unknown })}
          </span>
          <Act label={t('sheet.calculate-again')} onPress={goOn} />
        </>
      )}
    </span>
  )
}

function Working({ since, formulas }: Extract<CalculationState, { is: 'working' }>) {
  const [now, setNow] = useState(Date.now)
  useEffect(() => {
    const ticking = setInterval(() => setNow(Date.now()), 1000)
    return () => clearInterval(ticking)
  }, [])
  const seconds = Math.max(1, Math.round((now - since) / 1000))
  return <span className="text-soft tabular-nums">{t('sheet.calculating-formulas', { formulas, seconds })}</span>
}

function Act({ label, onPress }: { label: string; onPress: () => void }) {
  return (
    <button type="button" className="min-h-6 rounded px-2 font-medium text-accent hover:underline" onClick={onPress}>
      {label}
    </button>
  )
}
