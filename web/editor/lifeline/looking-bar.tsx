// What can be done with the moment on show. It stands above the work, and says plainly that this is not now.
import { ChevronDown, ChevronLeft, ChevronRight, EllipsisVertical } from 'lucide-react'
import { useState } from 'react'
import type { HistoryVersion } from '../../../core/contract'
import type { Moment } from '../../../core/history/lifeline'
import { addressOf } from '../../api/call'
import { saidAuthor } from '../../compare/moments'
import { Button } from '../../design/controls'
import { IconButton } from '../../design/icon-button'
import { Menu, MenuItem, MenuRule } from '../../design/overlay'
import { T, t, told } from '../../words/all'
import { clock, moment as time } from '../../words/formats'
import type { Then } from '../../workers/looking-back'
import type { ThenDesk } from '../body'

export function LookingBar({
  moment,
  then,
  kind,
  mayEdit,
  desk,
  onBringBack,
  onCompare,
  onRestore,
  onCopy,
  onLabel,
  onBack,
}: {
  moment: Moment
  then: Then | null
  kind: 'document' | 'spreadsheet'
  mayEdit: boolean
  desk: ThenDesk | null
  onBringBack: (what: 'content' | 'look' | 'sheet') => void
  onCompare: () => void
  onRestore: (version: HistoryVersion) => void
  onCopy: () => void
  onLabel: (version: HistoryVersion) => void
  onBack: () => void
}) {
  const [place, setPlace] = useState(0)
  const version = moment.kind === 'version' ? moment.version : null
  const since = then && then.kind !== 'damaged' ? then.summary : ''
  const step = (by: 1 | -1) => setPlace(desk?.step(by) ?? 0)
  const differences = desk?.differences ?? 0
  /** The selection stays where it is while its button is pressed. */
  const keep = { onMouseDown: (event: React.MouseEvent) => event.preventDefault() }
  return (
    <div
      className="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-ochre/50 bg-ochre-wash px-4 py-1.5"
      role="region"
      aria-label={t('lifeline.an-earlier-moment')}
      data-testid="looking-bar"
    >
      <div className="min-w-0 flex-1 basis-56">
        <p className="truncate">
          <T
            k="lifeline.recovery-point-of-by-read-only"
            v={{
              version: Boolean(version),
              number: version?.number,
              it: version ? time(moment.at) : clock(moment.at),
              versionIs: Boolean(version),
              authorName: version && saidAuthor(version),
              it2: version?.label && <span className="text-ochre"> · {version.label}</span>,
              strong: (c) => <strong>{c}</strong>,
              span: (c) => <span className="text-soft">{c}</span>,
            }}
          />
        </p>
        <p className="truncate text-[13.5px] text-soft" role="status" title={told(since)} data-testid="since">
          {since && t('lifeline.since-then', { since: told(since) })}
        </p>
      </div>
      {differences > 0 && (
        <div className="flex items-center gap-0.5 text-[13.5px]">
          <IconButton label={t('lifeline.the-difference-before')} className="size-7" onClick={() => step(-1)} {...keep}>
            <ChevronLeft />
          </IconButton>
          <span className="min-w-24 text-center">
            {place ? t('common.of', { at: place, all: differences }) : t('lifeline.differences', { differences })}
          </span>
          <IconButton label={t('lifeline.the-next-difference')} className="size-7" onClick={() => step(1)} {...keep}>
            <ChevronRight />
          </IconButton>
        </div>
      )}
      {mayEdit && (
        <Menu
          trigger={
            <Button>
              {t('common.bring-back')}
              <ChevronDown size={15} aria-hidden />
            </Button>
          }
        >
          <MenuItem onSelect={() => onBringBack('content')}>
            {kind === 'document' ? t('lifeline.the-selected-paragraphs-or-table') : t('lifeline.the-selected-cells')}
          </MenuItem>
          <MenuItem onSelect={() => onBringBack('look')}>{t('lifeline.only-how-the-selected-part-looks')}</MenuItem>
          {kind === 'spreadsheet' && (
            <MenuItem onSelect={() => onBringBack('sheet')}>{t('lifeline.this-whole-sheet')}</MenuItem>
          )}
          {version && (
            <>
              <MenuRule />
              <MenuItem onSelect={() => onRestore(version)}>{t('lifeline.the-whole-file-as-a-new-version')}</MenuItem>
            </>
          )}
        </Menu>
      )}
      <Button onClick={onCompare}>{t('common.compare-with-now')}</Button>
      <Menu
        trigger={
          <IconButton label={t('lifeline.more-for-this-moment')}>
            <EllipsisVertical />
          </IconButton>
        }
      >
        <MenuItem onSelect={onCopy}>{t('lifeline.save-it-as-a-copy')}</MenuItem>
        {version && (
          <MenuItem onSelect={() => window.location.assign(addressOf('bytes', { params: { versionId: version.id } }))}>
            {t('lifeline.download-this-version')}
          </MenuItem>
        )}
        {version && mayEdit && (
          <MenuItem onSelect={() => onLabel(version)}>
            {version.label ? t('lifeline.change-its-label') : t('lifeline.keep-it-under-a-label')}
          </MenuItem>
        )}
      </Menu>
      <Button look="main" onClick={onBack} title="Escape">
        {t('common.back-to-now')}
      </Button>
    </div>
  )
}
