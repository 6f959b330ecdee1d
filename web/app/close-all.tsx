// Closing everything that is open in this tab, with one question that says of each what is not saved.
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { defaultType } from '../../core/formats/types'
import { useSession } from '../api/signed-in'
import { Button } from '../design/controls'
import { KindGlyph } from '../design/kind'
import { Question } from '../design/overlay'
import { useStillHere } from '../design/still-here'
import { t } from '../words'
import { useOpenWorks } from '../work/open-list'
import { closeOpenWork, type OpenWork, openWorks, saveOpenWork } from '../work/open-works'
import { useOtherTabs } from './save-all'

export function CloseAll({ onClose }: { onClose: () => void }) {
  const { settings } = useSession()
  const navigate = useNavigate()
  const here = useStillHere()
  const works = useOpenWorks()
  const elsewhere = useOtherTabs()
  const [busy, setBusy] = useState(false)
  /** Why some could not be saved, by draft. */
  const [faults, setFaults] = useState<ReadonlyMap<string, string>>(new Map())
  const unsaved = works.filter((work) => work.unsaved)
  const savable = unsaved.filter(({ named }) => named)

  const close = async (some: readonly OpenWork[], how: 'closed' | 'let go') => {
    const shown = some.some((work) => work.shown)
    for (const { draftId } of some) await closeOpenWork(draftId, how)
    if (here() && (shown || openWorks().length === 0)) void navigate('/')
  }
  const all = async (how: 'closed' | 'let go') => {
    setBusy(true)
    await close(works, how)
    onClose()
  }
  const saveAndClose = async () => {
    setBusy(true)
    const refused = new Map<string, string>()
    for (const { draftId, named, unsaved } of works) {
      if (!unsaved) continue
      const { ok, result } = named ? await saveOpenWork(draftId) : { ok: false, result: t('app.has-no-name-yet') }
      if (!ok) refused.set(draftId, result)
    }
    // What was written while it was being saved is not in that version, and stays open.
    await close(
      openWorks().filter((work) => !work.unsaved),
      'closed',
    )
    setBusy(false)
    setFaults(refused)
    if (openWorks().length === 0) onClose()
  }
  return (
    <Question
      title={
        unsaved.length
          ? t('app.close-all-some-not-saved', { all: works.length, unsaved: unsaved.length })
          : t('app.close-all-nothing-unsaved', { all: works.length })
      }
      onClose={onClose}
      answers={
        <>
          {unsaved.length === 0 ? (
            <Button look="main" disabled={busy} onClick={() => all('closed')}>
              {t('app.close-them')}
            </Button>
          ) : (
            <>
              {savable.length > 0 && (
                <Button look="main" disabled={busy} onClick={saveAndClose}>
                  {busy
                    ? t('common.saving')
                    : t('app.save-n-and-close', { n: savable.length, all: savable.length === unsaved.length })}
                </Button>
              )}
              <Button look={savable.length ? 'plain' : 'main'} disabled={busy} onClick={() => all('closed')}>
                {t('common.close-go-on-later')}
              </Button>
            </>
          )}
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
          {unsaved.length > 0 && (
            <Button look="quiet" className="text-rust" disabled={busy} onClick={() => all('let go')}>
              {t('common.close-without-saving')}
            </Button>
          )}
        </>
      }
    >
      {unsaved.length > 0 && (
        <ul className="mb-2 max-h-56 overflow-auto border-t">
          {unsaved.map(({ draftId, name, kind, named }) => (
            <li key={draftId} className="flex items-center gap-2 border-b py-1.5 text-ink">
              <KindGlyph type={defaultType[kind]} size={16} />
              <span className={`min-w-0 flex-1 truncate ${named ? 'font-mono text-[14px]' : ''}`}>{name}</span>
              <span className={`text-[14px] ${faults.has(draftId) ? 'text-rust' : 'text-soft'}`}>
                {faults.get(draftId) ?? (named ? t('app.has-unsaved-changes') : t('app.has-no-name-yet'))}
              </span>
            </li>
          ))}
        </ul>
      )}
      {unsaved.length > 0 && t('common.unsaved-work-stays-in-rescue-for-days', { keptDays: settings.keptDays })}{' '}
      {elsewhere.length > 0 && t('app.other-tabs-stay-open', { n: elsewhere.length })}
    </Question>
  )
}
