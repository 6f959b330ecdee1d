// Along the bottom of the editor: the file's lifeline, and the readable list of the same when it is open.
import { ChevronDown, ChevronUp, Minus, Plus } from 'lucide-react'
import { useRef, useState } from 'react'
import { toast } from 'sonner'
import type { FileFacts } from '../../../core/contract'
import { type Moment, parseMoment, stateAt } from '../../../core/history/lifeline'
import { saidMoment } from '../../compare/moments'
import { IconButton } from '../../design/icon-button'
import { t } from '../../words/all'
import { Strip, type StripHandle } from './strip'
import { VersionList } from './version-list'
import type { ListActs } from './version-row'

export function Lifeline({
  facts,
  headId,
  moments,
  chosen,
  personId,
  open,
  unfolded,
  onOpen,
  onLook,
  onNear,
  onUnfold,
  acts,
}: {
  facts: FileFacts | undefined
  /** The version that the work is based on; the newest that is known, otherwise. */
  headId?: string | undefined
  moments: readonly Moment[]
  /** The moment on show; null is now. */
  chosen: Moment | null
  personId: string
  open: boolean
  unfolded: ReadonlySet<string>
  onOpen: (open: boolean) => void
  onLook: (moment: Moment | null) => void
  /** Somebody comes near the lifeline. */
  onNear: () => void
  onUnfold: (versionId: string) => void
  acts: ListActs
}) {
  const [pointed, setPointed] = useState<Moment | null>(null)
  const [typed, setTyped] = useState('')
  const handle = useRef<StripHandle>(null)
  const now = moments.at(-1)!
  if (moments.length < 2) return <div className="bars h-9 shrink-0 border-t bg-paper opacity-70" aria-hidden />
  const told = pointed ?? chosen ?? moments.findLast(({ kind }) => kind === 'version') ?? now
  const go = () => {
    const meant = parseMoment(typed, new Date())
    if (!meant) {
      toast(t('lifeline.jaula-does-not-understand-this-time-try'))
      return
    }
    const found = stateAt(moments, meant.getTime())
    if (found) onLook(found)
    setTyped('')
  }
  const versions = facts?.versions.length ?? 0
  return (
    <section
      className="shrink-0 border-t bg-paper"
      aria-label={t('common.versions')}
      onPointerEnter={onNear}
      onFocusCapture={onNear}
    >
      <div className="flex items-stretch gap-3 px-4 py-1">
        <div className="flex w-40 shrink-0 flex-col justify-center gap-1">
          <button
            type="button"
            aria-expanded={open}
            title="Alt+V"
            onClick={() => onOpen(!open)}
            className="flex items-center gap-1.5 rounded text-left text-[14px] hover:text-accent"
          >
            {open ? <ChevronDown size={15} aria-hidden /> : <ChevronUp size={15} aria-hidden />}
            {t('lifeline.versions', { versions })}
          </button>
          <input
            aria-label={t('lifeline.go-to-a-time')}
            placeholder={t('lifeline.last-tuesday-14-00')}
            className="h-7 w-full rounded border bg-sheet px-2 text-[13px] placeholder:text-soft"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') go()
              if (event.key === 'Escape') setTyped('')
            }}
          />
        </div>
        <div className="min-w-0 flex-1">
          <p className="truncate text-[13px] leading-5 text-soft" data-testid="moment-told" title={saidMoment(told)}>
            {saidMoment(told)}
          </p>
          <Strip
            moments={moments}
            chosen={chosen ?? now}
            personId={personId}
            onLook={(moment) => onLook(moment.kind === 'now' ? null : moment)}
            onPoint={setPointed}
            handle={handle}
          />
        </div>
        <div className="flex shrink-0 flex-col justify-center gap-0.5">
          <IconButton
            label={t('lifeline.closer')}
            keys="+"
            side="left"
            className="size-7"
            onClick={() => handle.current?.zoom(0.5)}
          >
            <Plus />
          </IconButton>
          <IconButton
            label={t('lifeline.wider')}
            keys="−"
            side="left"
            className="size-7"
            onClick={() => handle.current?.zoom(2)}
          >
            <Minus />
          </IconButton>
        </div>
      </div>
      {open && facts && (
        <VersionList
          facts={facts}
          headId={headId}
          moments={moments}
          chosen={chosen}
          unfolded={unfolded}
          onLook={onLook}
          onUnfold={onUnfold}
          onClose={() => onOpen(false)}
          acts={acts}
        />
      )}
    </section>
  )
}
