// How often this work is protected, why, and where that is set: the most specific setting wins.

import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import type { DraftKind, FileFacts, OwnProtection, ProtectionLayer } from '../../../core/contract'
import { type Protection, resolveProtection, sayInterval } from '../../../core/recovery/protection'
import { call, Refused } from '../../api/call'
import { keys } from '../../api/keys'
import { useSession } from '../../api/signed-in'
import { Button } from '../../design/controls'
import { T, t, told } from '../../words/all'

export const intervals = [5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600]
/** Those, and none. */
export const intervalsOrOff = [...intervals, 0]

/** What holds for a file, or for new work of a kind; the person's own setting while shared storage cannot be asked. */
export function useProtection(
  kind: DraftKind,
  facts: FileFacts | undefined,
): { protection: Protection; layers: readonly ProtectionLayer[]; asking: boolean } {
  const { settings } = useSession()
  const asked = useQuery({
    queryKey: keys.protection(
      kind,
      facts?.file.id,
      facts?.file.folderId,
      settings.recoveryInterval,
      Number(settings.continuousSave),
    ),
    placeholderData: (before) => before,
    queryFn: () => call('protection', { query: { kind, ...(facts && { fileId: facts.file.id }) } }),
  })
  const layers = asked.data ?? [
    {
      level: 'person' as const,
      name: '',
      by: 'me' as const,
      interval: settings.recoveryInterval,
      continuous: settings.continuousSave || null,
      least: null,
      most: null,
    },
  ]
  return { protection: resolveProtection(layers), layers, asking: asked.isLoading }
}

type Scope = 'file' | 'folder' | 'share' | 'kind' | 'person'

export function ProtectionSetting({ kind, file }: { kind: DraftKind; file: FileFacts | undefined }) {
  const client = useQueryClient()
  const { settings } = useSession()
  const { protection, layers, asking } = useProtection(kind, file)
  const [changing, setChanging] = useState(false)
  const [seconds, setSeconds] = useState(protection.interval)
  const [scope, setScope] = useState<Scope>(file ? 'file' : 'kind')
  const folder = file?.trail.at(-1)
  const scopes: [Scope, string][] = [
    ...(file ? ([['file', t('reach.this-file')]] as [Scope, string][]) : []),
    ...(folder ? ([['folder', t('reach.the-folder', { folderName: folder.name })]] as [Scope, string][]) : []),
    ...(file ? ([['share', t('reach.the-share', { shareName: file.share.name })]] as [Scope, string][]) : []),
    ['kind', t('reach.all-files', { kind })],
    ['person', t('reach.everything-of-mine')],
  ]
  const where = (at: Scope): Omit<OwnProtection, 'interval' | 'continuous'> =>
    at === 'file'
      ? { entryId: file!.file.id }
      : at === 'folder'
        ? { entryId: folder!.id }
        : at === 'share'
          ? { shareId: file!.share.id }
          : { kind }
  const own = (at: Scope) =>
    layers.findLast(({ level, by, name }) => by === 'me' && level === at && (at !== 'folder' || name === folder?.name))
  const keep = async (at: Scope, part: { interval?: number; continuous?: boolean }) => {
    try {
      if (at === 'person')
        client.setQueryData(
          ['settings'],
          await call('setSettings', {
            body: {
              ...settings,
              ...(part.interval !== undefined && { recoveryInterval: part.interval }),
              ...(part.continuous !== undefined && { continuousSave: part.continuous }),
            },
          }),
        )
      else {
        const there = own(at)
        await call('setProtection', {
          body: {
            ...where(at),
            interval: part.interval ?? there?.interval ?? null,
            continuous: part.continuous ?? there?.continuous ?? null,
          },
        })
      }
      await client.invalidateQueries({ queryKey: keys.protection() })
      setChanging(false)
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : t('common.this-could-not-be-set'))
    }
  }
  const select = 'h-8 min-w-0 rounded-md border border-rule-strong bg-sheet px-2'
  // What is not known yet is no setting to press on: it may say something else a moment later, and move.
  if (asking) return null
  return (
    <div className="mt-3 border-t pt-3 text-[14px]" data-testid="protection">
      <p>
        {protection.interval === 0 ? (
          <strong className="font-semibold">{t('reach.unsaved-work-does-not-go-to-the')}</strong>
        ) : (
          <T
            k="reach.unsaved-work-goes-to-the-server-every"
            v={{
              sayInterval: sayInterval(protection.interval),
              strong: (c) => <strong className="font-semibold">{c}</strong>,
            }}
          />
        )}
        : <span className="text-soft">{told(protection.intervalWhy)}.</span>{' '}
        {!changing && (
          <button
            type="button"
            className="text-accent underline"
            onClick={() => {
              setSeconds(protection.interval)
              setChanging(true)
            }}
          >
            {t('reach.change-it')}
          </button>
        )}
      </p>
      {changing && (
        <div className="flex flex-wrap items-center gap-2 pt-2">
          <select
            aria-label={t('common.recovery-interval')}
            className={select}
            value={seconds}
            onChange={(event) => setSeconds(Number(event.target.value))}
          >
            {[...new Set([...intervals, protection.interval || 5]), 0]
              .sort((a, b) => (a || Number.POSITIVE_INFINITY) - (b || Number.POSITIVE_INFINITY))
              .map((one) => (
                <option key={one} value={one}>
                  {one === 0 ? t('reach.off') : told(sayInterval(one))}
                </option>
              ))}
          </select>
          {t('reach.for')}
          <select
            aria-label={t('reach.for-what')}
            className={`${select} flex-1`}
            value={scope}
            onChange={(event) => setScope(event.target.value as Scope)}
          >
            {scopes.map(([at, words]) => (
              <option key={at} value={at}>
                {words}
              </option>
            ))}
          </select>
          <Button look="main" onClick={() => void keep(scope, { interval: seconds })}>
            {t('common.set')}
          </Button>
        </div>
      )}
      {file && (
        <label className="flex items-start gap-2 pt-3">
          <input
            type="checkbox"
            className="mt-1 accent-accent"
            checked={protection.continuous}
            onChange={(event) => void keep('file', { continuous: event.target.checked })}
          />
          <span>
            <T
              k="reach.save-this-file-by-itself-whenever-i"
              v={{
                continuous: Boolean(protection.continuous),
                continuousWhy: protection.continuousWhy,
                span: (c) => <span className="block text-[13px] text-soft">{c}</span>,
              }}
            />
          </span>
        </label>
      )}
    </div>
  )
}
