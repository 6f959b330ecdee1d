// What can be done with the moment on show. It stands above the work, and says plainly that this is not now.
import { ChevronDown, ChevronLeft, ChevronRight, EllipsisVertical } from 'lucide-react'
import { useState } from 'react'
import type { HistoryVersion } from '../../../core/contract'
import type { Moment } from '../../../core/history/lifeline'
import { addressOf } from '../../api/call'
import { Button } from '../../design/controls'
import { IconButton } from '../../design/icon-button'
import { Menu, MenuItem, MenuRule } from '../../design/overlay'
import { clock, count, moment as time } from '../../design/words'
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
      aria-label="An earlier moment"
      data-testid="looking-bar"
    >
      <div className="min-w-0 flex-1 basis-56">
        <p className="truncate">
          <strong>{version ? `Version ${version.number}` : 'Recovery point'}</strong> of{' '}
          {version ? time(moment.at) : clock(moment.at)}
          {version && ` by ${version.author.name}`}
          {version?.label && <span className="text-ochre"> · {version.label}</span>}
          <span className="text-soft"> · read only</span>
        </p>
        <p className="truncate text-[13.5px] text-soft" role="status" title={since} data-testid="since">
          {since && `Since then: ${since[0]!.toLowerCase()}${since.slice(1)}`}
        </p>
      </div>
      {differences > 0 && (
        <div className="flex items-center gap-0.5 text-[13.5px]">
          <IconButton label="The difference before" className="size-7" onClick={() => step(-1)} {...keep}>
            <ChevronLeft />
          </IconButton>
          <span className="min-w-24 text-center">
            {place ? `${place} of ${differences}` : count(differences, 'difference')}
          </span>
          <IconButton label="The next difference" className="size-7" onClick={() => step(1)} {...keep}>
            <ChevronRight />
          </IconButton>
        </div>
      )}
      {mayEdit && (
        <Menu
          trigger={
            <Button>
              Bring back
              <ChevronDown size={15} aria-hidden />
            </Button>
          }
        >
          <MenuItem onSelect={() => onBringBack('content')}>
            {kind === 'document' ? 'The selected paragraphs or table' : 'The selected cells'}
          </MenuItem>
          <MenuItem onSelect={() => onBringBack('look')}>Only how the selected part looks</MenuItem>
          {kind === 'spreadsheet' && <MenuItem onSelect={() => onBringBack('sheet')}>This whole sheet</MenuItem>}
          {version && (
            <>
              <MenuRule />
              <MenuItem onSelect={() => onRestore(version)}>The whole file, as a new version</MenuItem>
            </>
          )}
        </Menu>
      )}
      <Button onClick={onCompare}>Compare with now</Button>
      <Menu
        trigger={
          <IconButton label="More for this moment">
            <EllipsisVertical />
          </IconButton>
        }
      >
        <MenuItem onSelect={onCopy}>Save it as a copy</MenuItem>
        {version && (
          <MenuItem onSelect={() => window.location.assign(addressOf('bytes', { params: { versionId: version.id } }))}>
            Take its exact bytes
          </MenuItem>
        )}
        {version && mayEdit && (
          <MenuItem onSelect={() => onLabel(version)}>
            {version.label ? 'Change its label' : 'Keep it under a label'}
          </MenuItem>
        )}
      </Menu>
      <Button look="main" onClick={onBack} title="Escape">
        Back to now
      </Button>
    </div>
  )
}
