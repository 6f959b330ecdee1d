// Copies that shared storage refused for good when nobody was there to be asked: a name that is taken by now, a
// place that is gone. Their bytes are on this device until somebody says what becomes of them.

import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import { uuidv7 } from 'uuidv7'
import type { StoredSave } from '../../core/recovery/protocol'
import { saidBy } from '../../core/words/said'
import { Refused } from '../api/call'
import { keys } from '../api/keys'
import { Button } from '../design/controls'
import { KindGlyph } from '../design/kind'
import { T, t, told } from '../words'
import { moment } from '../words/formats'
import { device } from '../work/device'
import { sharedStorage } from '../work/shared-storage'

export function RefusedCopies({ copies }: { copies: readonly StoredSave[] }) {
  if (copies.length === 0) return null
  return (
    <section className="mb-10" aria-label={t('rescue.copies-that-were-not-saved')}>
      <h2 className="text-[17px] font-semibold">{t('rescue.copies-that-were-not-saved')}</h2>
      <p className="mb-2 text-soft">{t('rescue.the-server-refused-them-later-what-was')}</p>
      <ul className="border-t">
        {copies.map((copy) => (
          <CopyRow key={copy.key} copy={copy} />
        ))}
      </ul>
    </section>
  )
}

function CopyRow({ copy }: { copy: StoredSave }) {
  const client = useQueryClient()
  const [busy, setBusy] = useState(false)
  const name = copy.target.name ?? t('rescue.a-copy')
  const done = async () => {
    await device.commit({ expect: [], endSaves: [copy.key] })
    await client.invalidateQueries({ queryKey: keys.pieces() })
  }
  const again = async () => {
    setBusy(true)
    try {
      const free = copy.refused?.freeName
      const target = 'shareId' in copy.target && free ? { ...copy.target, name: free } : copy.target
      const { file } = await sharedStorage.save({ ...copy, key: free ? uuidv7() : copy.key, target })
      await done()
      toast(t('rescue.the-copy-is-saved-as', { fileName: file.name }))
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : told(saidBy(error)))
    }
    setBusy(false)
  }
  const download = () => {
    const link = document.createElement('a')
    link.href = URL.createObjectURL(new Blob([copy.bytes as BlobPart]))
    link.download = name
    link.click()
    setTimeout(() => URL.revokeObjectURL(link.href), 60_000)
  }
  return (
    <li className="flex flex-wrap items-center gap-x-6 gap-y-2 border-b py-3" data-testid="refused-copy">
      <KindGlyph type={name.slice(name.lastIndexOf('.') + 1)} size={20} />
      <div className="min-w-[320px] flex-1">
        <p className="truncate font-mono font-medium">{name}</p>
        <p className="text-[14px] text-soft">
          <T
            k="rescue.from"
            v={{
              toISOString: moment(new Date(copy.at).toISOString()),
              title: copy.refused && told(copy.refused),
              span: (c) => <span className="text-rust">{c}</span>,
            }}
          />
        </p>
      </div>
      <div className="flex basis-full flex-wrap gap-2 pl-11">
        <Button onClick={download}>{t('rescue.download-it')}</Button>
        <Button look="quiet" onClick={() => void done()}>
          {t('rescue.remove-for-good')}
        </Button>
        <Button look="main" disabled={busy} onClick={() => void again()}>
          {copy.refused?.freeName ? t('rescue.save-as', { freeName: copy.refused.freeName }) : t('common.try-again')}
        </Button>
      </div>
    </li>
  )
}
